"""`python -m haze` is the command `haze`."""

import sys

from haze.cli import main

sys.exit(main())
