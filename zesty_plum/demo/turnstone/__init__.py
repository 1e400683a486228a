"""Turnstone, a stand-in for somebody's own camera: it photographs the scenes and writes a raw and
its own picture of each, as cameras do, by mathematics that the learner does not share.

`camera` renders, `files` writes DNG and JPEG, `listing` is the list of its dials as its owner would
write it, `shoot` takes a day's pairs.
"""
