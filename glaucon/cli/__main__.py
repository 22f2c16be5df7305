"""`python -m glaucon.cli`."""

import sys

from glaucon.cli import main

sys.exit(main())
