"""The heart: looks, recipes, bodies, scenes, rendering and measuring. Knows no interface, database
or clock."""
