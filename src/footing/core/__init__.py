"""The physics and the computation: numpy in, numpy out. No web, no database, no files.

Coordinates, units, time (every docstring in this package means these):

- *Pixels*: x to the right, y down, the centre of the top-left pixel is (0, 0), in the picture as
  the file says it is to be shown. Arrays of marks are ``(n, 2)`` float.
- *World*: metres once a known length is set, else pixels with y up. ``(n, 2)`` float.
- *Time*: seconds. *File time* starts with 0 at frame 0; *study time* is 0 at the zero frame.
- *Angles*: radians, counter-clockwise as seen, from +x towards +y.
- *Uncertainty*: always a standard uncertainty, in the unit of what it belongs to.
- What is not there is absent; NaN never stands for "not marked".

Rooms:

- `arrays`, `errors`, `texts`: names that all others use
- `units`, `dimensions`, `quantities`: what numbers are of; `formulas` in them
- `gravity`: g at a place
- `timing`, `ground`, `plane`, `steadying`: from pixels and frames to lengths and times
- `windows`, `kinematics`, `speed`, `paths`, `turning`, `since_start`, `motion`: what the marks of a
  body give; `oddities`
- `impacts`: where something hits
- `measured`: its columns as formulas take them; `covariances` of what shares marks
- `curves`, `starting`, `fitting`, `choosing`, `straightening`: curves through points
- `reading`, `meaning`, `effects`, `findings`: what comes of them, and how sure that is
- `ledgers`: accounts of energy and of momentum
- `pooling`: what a class found, together
- `air` and the `weather`, `drag`; `prediction`: motions by laws, leg by leg, adjusted to marks
- `soundness`, `fit_soundness`: classic mistakes, as data; `axes` that do not mislead
- `following`: a body through the frames of a footage
"""
