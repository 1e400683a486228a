"""What everything stands on: arrays, loops, caches, texts, files of data, and the errors that
people read. It knows nothing of cameras."""
