"""A whole folder of pictures through one recipe, on the cores of this machine or on a cluster.

`shots` decides what there is to do, `one` does it for one picture wherever it is told to, `folder`
hands the pictures out (Dask distributed) and gathers what became of each.
"""
