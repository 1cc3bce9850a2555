"""Following a body through the frames of a footage.

- `pictures`: a frame, with its colour where that is known
- `streaks`: motion blur
- `patches`: a patch of a frame, and how it is seen
- `laying`: laying a patch exactly over another frame
- `searching`: looking for a patch in an area
- `prediction`: where a body should be next
- `scene`: the still background, and the camera's own motion
- `background`: what of a patch is the body
- `outline`: the pieces that moved, and a body's outline and centre
- `tint`: the colour of a plain thing
- `look`: the first witness, how a body looks
- `hypothesis`: one account of where it went, and what all witnesses say of it
- `run`: several accounts of several bodies through all frames, and why it ended
"""
