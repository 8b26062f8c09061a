"""In which order pieces go together. Start in `slides`."""
