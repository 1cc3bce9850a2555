"""Hard films of real things: painted from photographs, with exact truth; and real footage.

- `photographs`: the textures that general packages ship
- `actors`: what can be seen on a film: turning balls, sprites, hands, people
- `filmset`: one film: who plays in it, the camera, the faults of phones, and where everything is
- `clips`: the films, in two halves, each of some `kind`; what is `flying`, `held`, `sliding` or
  `walking` in them
- `rivals`: other ways to follow, to compare with
- `judging`: what became of the marks
- `measured`: the benchmark
- `walkers`: real people on real film, with places that were checked by eye
"""
