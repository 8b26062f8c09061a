"""A stand-in for a shop that cuts tube to order: takes an order file and answers with a price and days.

It listens on 127.0.0.1 only. Its price model is made up and told with every answer and by GET: so much for setting up,
so much a piece, an end and a bend, and for the metres of tube; days by how much there is to do.
"""

from __future__ import annotations

import json
import math
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Thread
from typing import Any

HOST = "127.0.0.1"
SETUP, A_PIECE, A_BEND, A_METRE, A_DAY = 60.0, 2.5, 7.0, 0.9, 80
ENDS = {"square": 1.0, "mitre": 2.0, "flat": 2.0, "cope": 3.0}
TO_SEVERAL = 2.0  # times an end's price where it is cut to more than one tube
LEAST_DAYS = 3
MODEL = (
    f"{SETUP:g} for setting up; {A_PIECE:g} a piece; "
    + ", ".join(f"{price:g} a {kind} end" for kind, price in ENDS.items())
    + f", {TO_SEVERAL:g} times that where it is cut to several tubes; {A_BEND:g} a bend; {A_METRE:g} a metre handled. "
    f"{LEAST_DAYS} days and one more for every {A_DAY} ends and bends. Tube is not in it."
)
MOST_BYTES = 20_000_000


def quote(order: Any) -> dict[str, Any]:
    """The price and the days of an order. Raises ValueError with a sentence for one that is none."""
    if not isinstance(order, dict) or order.get("format") != "ironcage-order":
        raise ValueError("This is no order file.")
    pieces = order.get("pieces")
    if not isinstance(pieces, list) or not pieces:
        raise ValueError("The order has no pieces.")
    price, work = SETUP, 0
    for piece in pieces:
        try:
            ends, bends, length = list(piece["ends"]), int(piece["bends"]), float(piece["length_mm"])
            prices = [ENDS[end["kind"]] * (TO_SEVERAL if end["several"] else 1.0) for end in ends]
        except (KeyError, TypeError, ValueError):
            raise ValueError("A piece of the order lacks its ends, its bends or its length.") from None
        price += A_PIECE + sum(prices) + A_BEND * bends + A_METRE * length / 1000
        work += len(ends) + bends
    return {"price": round(price, 2), "days": LEAST_DAYS + math.ceil(work / A_DAY), "model": MODEL}


class _Answers(BaseHTTPRequestHandler):
    """GET tells the price model; POST takes an order."""

    def do_GET(self) -> None:
        self._say(200, {"model": MODEL})

    def do_POST(self) -> None:
        try:
            size = int(self.headers.get("Content-Length", "0"))
            if not 0 < size <= MOST_BYTES:
                raise ValueError("The order is empty or too large.")
            self._say(200, quote(json.loads(self.rfile.read(size))))
        except ValueError as problem:
            self._say(400, {"problem": str(problem)})

    def _say(self, code: int, body: dict[str, Any]) -> None:
        data = json.dumps(body).encode("utf-8")
        self.send_response(code)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(data)))
        self.end_headers()
        self.wfile.write(data)

    def log_message(self, format: str, *args: Any) -> None:
        """Nothing: a shop's screen is not a log."""


class QuoteService:
    """The service, listening from the start on a port, or on a free one at 0; `serve` answers in this thread,
    `start` in another one."""

    def __init__(self, port: int = 0) -> None:
        self._server = ThreadingHTTPServer((HOST, port), _Answers)
        self._server.daemon_threads = True

    @property
    def address(self) -> str:
        """Where it listens."""
        return f"http://{HOST}:{self._server.server_address[1]}/"

    def serve(self) -> None:
        """Answer until the program ends."""
        self._server.serve_forever()

    def start(self) -> None:
        """Answer in another thread."""
        Thread(target=self._server.serve_forever, name="quotes", daemon=True).start()

    def stop(self) -> None:
        """Answer no more, and let go of the port."""
        self._server.shutdown()
        self._server.server_close()
