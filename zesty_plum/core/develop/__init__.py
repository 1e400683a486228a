"""From a scene and a look to a picture: one file a stage, put together in `pipeline`."""
