"""What a reach of a mesh is, in bits; apart from what is compiled, so that it can be known without a compiler."""

PIPE, OPENING, ONE_WAY = 0, 1, 2  # a pipe, an opening, and that water goes through it from above to below only
