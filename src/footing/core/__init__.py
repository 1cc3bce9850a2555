"""The physics and the computation: numpy in, numpy out. No web, no database, no files.

Coordinates, units, time (every docstring in this package means these):

- *Pixels*: x to the right, y down, the centre of the top-left pixel is (0, 0), in the picture as
  the file says it is to be shown. Arrays of marks are ``(n, 2)`` float.
- *World*: metres once a known length is set, else pixels with y up. ``(n, 2)`` float.
- *Time*: seconds. *File time* starts with 0 at frame 0; *study time* is 0 at the zero frame.
- *Angles*: radians, counter-clockwise as seen, from +x towards +y.
- *Uncertainty*: always a standard uncertainty, in the unit of what it belongs to.
- What is not there is absent; NaN never stands for "not marked".
"""
