"""An order of pieces to be cut, as a file, and what a shop answers to it over HTTP."""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from http.client import HTTPException
from typing import Any
from urllib.error import HTTPError, URLError
from urllib.parse import urlsplit
from urllib.request import Request, urlopen

from ironcage.core.answers.cut.here import ordered
from ironcage.core.answers.cut.markout import Length, lengths
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

PATIENCE_S = 8.0
MOST_BYTES = 1_000_000
MOST_DAYS = 3650


@dataclass(frozen=True)
class Quote:
    """What a shop asks. price: in its money; days: until it is there; model: how it came to that, in its words."""

    price: float
    days: int
    model: str


def order(job: Job) -> bytes:
    """The pieces that are still to be cut and go to a tube laser, or all where none does, as a shop needs them. Refuses
    a job that has none."""
    pieces = ordered(job)
    if not pieces:
        raise Problem("There are no pieces to be cut.", where="order", hint="Frame is where tubes come from.")
    body = {
        "format": "ironcage-order",
        "version": 1,
        "job": job.brief.name,
        "pieces": [_ordered(p, of) for p in pieces for of in lengths(job, p)],
    }
    return (json.dumps(body, indent=1) + "\n").encode("utf-8")


def _ordered(piece: Piece, of: Length) -> dict[str, Any]:
    """One length of a piece, which is cut square where it is joined to the next."""
    stop = of.start + of.length
    ends = [piece.first if of.start == 0 else None, piece.second if stop > piece.bar - 1e-6 else None]
    bends = [b for b in piece.bends if of.start <= b.start < stop and not piece.laser]  # a tube laser cuts it straight
    return {
        "piece": of.name,
        "section": piece.stock.name,
        "material": piece.material,
        "length_mm": round(of.length, 2),
        "mass_kg": round(piece.mass * of.length / piece.bar, 3),
        "bends": len(bends),
        "ends": [
            {"kind": end.kind, "from_square_deg": round(math.degrees(end.saw_angle), 2), "several": bool(end.trims)}
            if end
            else {"kind": "square", "from_square_deg": 0.0, "several": False}
            for end in ends
        ],
    }


def ask(address: str, order_file: bytes, patience: float = PATIENCE_S) -> Quote:
    """Send an order to a shop's address and read its answer. Refuses an address that is none, no answer in time (s),
    and answers that make no sense."""
    parts = urlsplit(address.strip())
    if parts.scheme not in ("http", "https") or not parts.hostname:
        raise Problem(
            f"‘{address}’ is no address to ask at.", where=address, hint="Write for example http://127.0.0.1:8471/"
        )
    request = Request(address.strip(), order_file, {"Content-Type": "application/json"})
    try:
        with urlopen(request, timeout=patience) as response:
            data = response.read(MOST_BYTES + 1)
    except HTTPError as error:
        raise Problem(
            f"{parts.netloc} took no order: {_said(error.read(MOST_BYTES)) or error.reason}.", where=address
        ) from None
    except (URLError, OSError, HTTPException, ValueError) as error:
        why = "it does not answer" if "timed out" in str(error) else "nothing listens there"
        raise Problem(
            f"No quote from {parts.netloc}: {why}.",
            where=address,
            hint="Start it first (iron-cage stand-in quotes), or look at the address.",
        ) from None
    return _read(data, parts.netloc)


def _said(data: bytes) -> str:
    """A refusal in the other side's words, where it gave one."""
    try:
        return str(json.loads(data)["problem"])[:200].rstrip(".")
    except (ValueError, KeyError, TypeError):
        return ""


def _read(data: bytes, whose: str) -> Quote:
    """An answer; refuses one that holds no sensible price and days."""
    try:
        body = json.loads(data)
        price, days = float(body["price"]), int(body["days"])
        sensible = len(data) <= MOST_BYTES and math.isfinite(price) and price >= 0 and 0 <= days <= MOST_DAYS
    except (ValueError, KeyError, TypeError, OverflowError):
        sensible = False
    if not sensible:
        raise Problem(f"{whose} answered, but with no price and days that make sense.", where=whose)
    return Quote(price, days, str(body.get("model", ""))[:1000])
