"""Entry point of ``python -m weirant``."""

import gc
import sys

gc.disable()  # a start makes no garbage worth a search; the window collects for itself

from weirant.cli.main import main  # noqa: E402

sys.exit(main(sys.argv[1:]))
