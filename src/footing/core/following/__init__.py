"""Following a body through the frames of a footage.

- `streaks`: motion blur
- `patches`: a patch of a frame, and how it is seen
- `laying`: laying a patch exactly over another frame
- `background`: what of a patch is the body
- `searching`: looking for a patch in an area
- `prediction`: where a body should be next
- `follower`: one body from frame to frame, with a quality that means something
- `run`: several bodies through all frames, and why it ended
"""
