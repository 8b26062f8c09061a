"""How a wheel's links move: exact positions by closing the loop of links, what the wheel does on its way, and the
forces in the links. Start in `wishbone`."""
