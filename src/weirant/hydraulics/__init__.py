"""Water in the pipe: discharge, depth and water surface along the run."""
