"""What welding does to a frame: how a weld shrinks a tube's end (`shrink`), and where joints go as one weld follows
another (`forecast`). Start in `shrink`."""
