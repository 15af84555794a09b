"""`python -m sornix`: the command line, where no script was laid down for it."""

import sys

from sornix.cli import main

if __name__ == "__main__":
    sys.exit(main(prog_name="sornix"))
