"""Reading videos: index, frames, cache. The only place that opens a student's file.

- `opening`: what a file is, under limits; `pictures` likewise
- `index`: what a film holds, from demuxing alone: frame times, key frames, size, rotation
- `numbering`: which frame of the index a decoded picture is
- `frames`: decoding on demand, one key-frame group at a time; `luma`: brightness alone
- `cache`: decoded frames on disk as JPEG, the longest unused dropped first
- `service`: the picture of any frame; `survey`: looking through a whole file

Frames are numbered from 0 in the order in which a player shows them; the numbers come from the
index and never change.
"""
