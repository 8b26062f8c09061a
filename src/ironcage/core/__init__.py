"""Everything the program knows and can work out, with no screen: calc, job, answers, exchange."""
