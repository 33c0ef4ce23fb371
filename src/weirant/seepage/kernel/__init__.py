"""The compiled inner loops of the simulator: soil curves, one Newton step, the banded solve.

Numba compiles them when first called, and keeps the result on disk; ``prepare`` may be called beside the interface. They
release the interpreter, so that an interface stays free while they run.
"""
