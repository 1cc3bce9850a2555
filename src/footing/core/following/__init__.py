"""Following a body through the frames of a footage.

- `pictures`: a frame, with its colour where that is known
- `streaks`: motion blur
- `patches`: a patch of a frame, and how it is seen
- `laying`: laying a patch exactly over another frame
- `searching`: looking for a patch in an area
- `prediction`: where a body should be next
- `light`: how bright it is, in a picture beside another
- `camera`: the camera's own motion
- `scene`: the still background, and what differs from it
- `background`: what of a patch is the body
- `pieces`: what moved, and stands alone
- `rim`: the circle around what is round
- `tint`: the colour of a plain thing
- `outline`: a body's outline and centre
- `parts`: the parts of a body with limbs
- `touching`: telling a body's piece from what touches it
- `look`: the first witness, how a body looks
- `placing`: which of look and outline places a mark
- `candidate`: a place where it may be, and what speaks for it
- `target`: what is known of a body
- `weighing`: what the witnesses say of a place
- `proposing`: where a body may be in a frame
- `hypothesis`: one account of where it went
- `review`: the way back over a stretch, made one with the way forward
- `grading`: how likely a mark is right
- `run`: several accounts of several bodies through all frames, and why it ended
"""
