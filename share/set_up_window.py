"""A small window while Weirant is set up from a menu: with a text it shows that; else it reads lines "PERCENT words" until its input ends.

Made of what Python brings along, since nothing else is there yet.
"""

import os
import sys
import tkinter
from tkinter import ttk


def main() -> None:
    """Show the window."""
    window = tkinter.Tk()
    window.title("Weirant")
    words = tkinter.StringVar(value=sys.argv[1] if len(sys.argv) > 1 else "Setting up, once. This takes a few minutes on a slow line.")
    ttk.Label(window, textvariable=words, wraplength=460, padding=18).pack()
    if len(sys.argv) > 1:
        ttk.Button(window, text="Close", command=window.destroy).pack(pady=(0, 14))
        window.bind("<Escape>", lambda _: window.destroy())
    else:
        bar = ttk.Progressbar(window, length=460, maximum=100)
        bar.pack(padx=18, pady=(0, 18))

        def read(*_: object) -> None:
            lines = os.read(0, 4096).decode("utf-8", "replace").splitlines()  # not by readline, which would keep some back
            if not lines:
                window.destroy()
                return
            percent, _, text = lines[-1].partition(" ")
            bar["value"] = int(percent) if percent.isdigit() else bar["value"]
            words.set(f"Setting up, once: {text.strip()}")

        window.createfilehandler(sys.stdin, tkinter.READABLE, read)
    window.mainloop()


if __name__ == "__main__":
    main()
