"""What each kind of fitting is made of: plates, and pieces in or over a tube."""
