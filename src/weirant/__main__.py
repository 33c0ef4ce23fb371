"""Entry point of ``python -m weirant``."""

import gc
import sys

if __name__ == "__main__":  # worker processes import this file too
    gc.disable()  # a start makes no garbage worth a search; the window collects for itself

    from weirant.cli.main import main

    sys.exit(main(sys.argv[1:]))
