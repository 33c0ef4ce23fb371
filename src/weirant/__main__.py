"""Entry point of ``python -m weirant``."""

import sys

from weirant.cli.main import main

sys.exit(main(sys.argv[1:]))
