"""What a job is: plain frozen data in SI, no computation, no files, no interface."""

from weirant.job.job import Job

__all__ = ["Job"]
