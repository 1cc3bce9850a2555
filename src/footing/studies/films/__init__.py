"""Films on their way into a study, and what is done with them in the background.

- `uploads`: from arriving bytes to a source; `phones` that send them
- `follows`: following as it is asked for; `following` does it; `spots` of the background
"""
