"""Run the command line: ``python -m footing``."""

from footing.cli import main

if __name__ == "__main__":
    main()
