"""One tube: where its `centreline` runs, how its ends are cut (`cope` onto `receivers`), its kinks and its bolts."""
