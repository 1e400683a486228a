"""Learning how a camera renders, from pairs of a raw picture and the one that the camera made of
it.

`pairs` finds them, `align` and `shot` lay the two over each other, `fit` finds a rendering for
their colours, `sure` says how well it does on pictures that it was not taught, `steps` finds how
far a dial goes, and `teach` makes a body of it all.
"""
