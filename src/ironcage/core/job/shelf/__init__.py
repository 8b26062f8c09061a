"""What ships to start from: sections and materials people buy, generic parts, an example of rules."""
