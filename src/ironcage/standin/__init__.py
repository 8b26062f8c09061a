"""Services that stand in for ones outside, on this machine alone, so that what talks to them can be tried."""
