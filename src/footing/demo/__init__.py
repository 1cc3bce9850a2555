"""The winter fair at Larkmoor: clips with known truth, and the studies of class 9K.

- `painting`: textures and shapes; `filming`: exposure, noise, encoding
- `scenes`: what happens in each clip, from known physics (`kicksled`, `balcony`, `footbridge`,
  `curling`, `gliding`, `bouncing`); `render`: writes clips and truth
- `seed`: fills the database; `hand`: whoever works on its studies, by the edits that a person makes
- `measurements`, `ledgers`, `models`: what is in its studies
- `lesson`: what the class found with the sled; `reports` that it handed in

The clips and their truth are part of the project (`clips`). The application never reads truth.
"""
