"""`python -m ironcage`: what the launcher starts."""

import sys

from ironcage.cli.main import main

sys.exit(main(sys.argv[1:]))
