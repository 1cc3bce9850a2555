"""Reading videos: index, frames, cache. The only place that opens a student's file.

- `index`: what a file holds, from demuxing alone: frame times, key frames, size, rotation.
- `frames`: decoding on demand, one key-frame group at a time.
- `cache`: decoded frames on disk as JPEG, the longest unused dropped first.

Frames are numbered from 0 in the order in which a player shows them; the numbers come from the
index and never change.
"""
