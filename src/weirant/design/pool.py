"""The processes of this machine as an executor, started once and kept."""

from __future__ import annotations

import atexit
import multiprocessing
import os
from concurrent.futures import Executor, ProcessPoolExecutor
from functools import cache

from weirant.language import here, use


@cache
def own_pool() -> Executor:
    """One process a core, each started afresh: a copy of a process with an interface in it would not be safe."""
    pool = ProcessPoolExecutor(os.cpu_count() or 1, multiprocessing.get_context("spawn"), use, (here(),))
    atexit.register(pool.shutdown, wait=False, cancel_futures=True)
    return pool
