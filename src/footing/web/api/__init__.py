"""The JSON API, and the frames and uploads of footage."""
