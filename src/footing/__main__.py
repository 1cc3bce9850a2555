"""Run the command line: ``python -m footing``."""

from footing.cli import main

main()
