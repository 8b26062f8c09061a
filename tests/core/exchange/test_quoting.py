"""Orders and quotes: the made-up shop's price by hand, and every way in which a shop may not answer."""

import json
import time
from collections.abc import Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, HTTPServer
from threading import Thread

import pytest

from ironcage.core.answers.cut.here import cut_here
from ironcage.core.answers.cut.pieces import answer
from ironcage.core.exchange.quoting import ask, order
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.standin.quotes import QuoteService, quote
from tests.core.lines import typed


@contextmanager
def _answering(body: bytes, code: int = 200, wait: float = 0.0) -> Iterator[str]:
    """A server that answers every order with the same."""

    class Handler(BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            self.rfile.read(int(self.headers["Content-Length"]))
            time.sleep(wait)
            self.send_response(code)
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)

        def log_message(self, format: str, *args: object) -> None:
            pass

    server = HTTPServer(("127.0.0.1", 0), Handler)
    Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_address[1]}/"
    finally:
        server.shutdown()
        server.server_close()


@pytest.fixture
def service() -> Iterator[QuoteService]:
    made = QuoteService()
    made.start()
    yield made
    made.stop()


def test_the_made_up_shop_asks_what_its_model_says(box: Job, service: QuoteService) -> None:
    file = json.loads(order(box))
    pieces = answer(box).pieces
    assert [p["piece"] for p in file["pieces"]] == [p.id for p in pieces]
    prices = {"square": 1.0, "mitre": 2.0, "flat": 2.0, "cope": 3.0}
    by_hand = 60.0
    for p in pieces:
        ends = sum(prices[e.kind] * (2 if e.trims else 1) for e in (p.first, p.second))
        by_hand += 2.5 + ends + 0.9 * p.bar / 1000
    made = ask(service.address, order(box))
    assert made.price == pytest.approx(by_hand, abs=0.01 * len(pieces))
    assert made.days == 3 + -(-2 * len(pieces) // 80)
    assert "60 for setting up" in made.model
    cut = typed(box, f"piece {pieces[0].id} cut")
    assert ask(service.address, order(cut)).price < made.price  # what is cut is not ordered
    with pytest.raises(Problem, match="There are no pieces to be cut"):
        order(Job())


@pytest.mark.parametrize(
    ("body", "code", "says"),
    [
        (b"<html>welcome</html>", 200, "with no price and days that make sense"),
        (b'{"price": -5, "days": 3}', 200, "with no price and days that make sense"),
        (b'{"price": 1e400, "days": 3}', 200, "with no price and days that make sense"),
        (b'{"price": 100, "days": "soon"}', 200, "with no price and days that make sense"),
        (b'["a"]', 200, "with no price and days that make sense"),
        (b"\xff\xfe", 200, "with no price and days that make sense"),
        (b'{"problem": "We cut no chromium."}', 422, "took no order: We cut no chromium"),
        (b"oops", 500, "took no order: Internal Server Error"),
    ],
)
def test_an_answer_that_makes_no_sense_is_refused(box: Job, body: bytes, code: int, says: str) -> None:
    with _answering(body, code) as address, pytest.raises(Problem) as no:
        ask(address, order(box))
    assert says in str(no.value)


def test_nobody_there_a_slow_shop_and_no_address_are_told(box: Job) -> None:
    gone = QuoteService()
    address = gone.address
    gone.start()
    gone.stop()
    with pytest.raises(Problem, match=r"nothing listens there\. Start it first"):
        ask(address, order(box))
    with _answering(b"{}", wait=1.0) as slow, pytest.raises(Problem, match="it does not answer"):
        ask(slow, order(box), patience=0.2)
    for nonsense in ("", "the shop", "file:///etc/passwd", "http://"):
        with pytest.raises(Problem, match="is no address to ask at"):
            ask(nonsense, order(box))


@pytest.mark.parametrize(
    "spoiled", [{}, [], {"format": "ironcage-order"}, {"format": "ironcage-order", "pieces": [{"ends": [{}]}]}]
)
def test_the_shop_takes_no_order_that_is_none(spoiled: object, service: QuoteService) -> None:
    with pytest.raises(ValueError, match=r"order|piece"):
        quote(spoiled)
    with pytest.raises(Problem, match="took no order"):
        ask(service.address, json.dumps(spoiled).encode())


def test_hours_here_are_counted_by_what_is_done_and_follow_the_shops_own_minutes(box: Job) -> None:
    pieces = answer(box).pieces
    here = cut_here(box)
    counted = {w.work: w.count for w in here.works}
    assert counted["piece"] == here.pieces == len(pieces)
    assert sum(counted.values()) == 3 * len(pieces)  # a piece has two ends
    assert here.hours == pytest.approx(sum(w.count * w.minutes for w in here.works) / 60)
    assert here.money is None
    slower = cut_here(typed(box, "piece minutes piece 64", "piece rate 30"))
    assert slower.hours - here.hours == pytest.approx(len(pieces))  # an hour more for each
    assert slower.money == pytest.approx(30 * slower.hours)
    assert cut_here(typed(box, "piece minutes piece 64", "piece minutes piece 0")) == here
    with pytest.raises(Problem, match=r"‘weld’ is no work on a piece\. There is piece, square"):
        typed(box, "piece minutes weld 4")
