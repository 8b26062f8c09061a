"""`python -m ironcage`: what the launcher starts."""

import os
import sys

# Matrices here are small: a second BLAS thread takes longer to wake than it saves, and the window wants the core.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
# No plug-in of somebody else's may change how a job is read; looking for them would cost a tenth of the start.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")

from ironcage.cli.main import main

sys.exit(main(sys.argv[1:]))
