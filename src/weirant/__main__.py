"""Entry point of ``python -m weirant``."""

if __name__ == "__main__":  # worker processes import this file too
    from weirant.cli.main import start

    start()
