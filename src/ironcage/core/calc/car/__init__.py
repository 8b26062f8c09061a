"""The car as a whole: masses and wheel loads, chains and shafts, tyres, and a `mannequin` in the seat."""
