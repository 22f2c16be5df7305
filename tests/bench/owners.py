"""Many owners at once on a demo of its own, and how long each waits: python -m tests.bench.owners OWNERS SECONDS

Each brings the sample in, then mixes a colour, keeps it, reads it back, now and then fixes all and releases, with one
to three seconds between. A write is lost where what is read back is not what was kept.
"""

from __future__ import annotations

import random
import sys
import tempfile
import threading
import time
from collections import Counter, defaultdict
from collections.abc import Callable
from pathlib import Path
from typing import Any

from tests.running import Running, running

_FIX_EVERY, _RELEASE_EVERY = 6, 8
Answer = tuple[int, Any]


class _Tally:
    """How long each kind of thing took, how it was answered, and how many writes were lost."""

    def __init__(self) -> None:
        self.took: dict[str, list[float]] = defaultdict(list)
        self.answers: Counter[int] = Counter()
        self.lost = 0
        self._lock = threading.Lock()

    def timed(self, kind: str, ask: Callable[[], Answer]) -> Any:
        began = time.monotonic()
        status, answer = ask()
        with self._lock:
            self.took[kind].append(time.monotonic() - began)
            self.answers[status] += 1
        return answer


def _work(owner: Running, seed: int, until: float, tally: _Tally) -> None:
    site, chance, turn = owner.bring_sample(), random.Random(seed), 0
    at = f"/api/sites/{site}"
    while time.monotonic() < until:
        turn += 1
        colour = f"#{chance.randrange(0x1000000):06x}"
        acts = [{"act": "set-colour", "role": "link", "value": colour}]
        base = tally.timed("reading", lambda: owner.call("GET", f"{at}/study"))["base"]
        for _ in range(3):
            shown = {"base": base, "search": "show", "acts": acts}
            tally.timed("dragging", lambda asked=shown: owner.call("POST", f"{at}/searches", asked))
        kept = {"base": base, "acts": acts}
        tally.timed("keeping", lambda asked=kept: owner.done("POST", f"{at}/acts", asked))
        now = tally.timed("reading", lambda: owner.call("GET", f"{at}/study"))
        tally.lost += [role["value"] for role in now["roles"] if role["id"] == "link"] != [colour]
        if turn % _FIX_EVERY == 0:
            asked = {"base": now["base"], "search": "fix-all"}
            tally.timed("fix all", lambda asked=asked: owner.done("POST", f"{at}/searches", asked))
        if turn % _RELEASE_EVERY == 0:
            plan = owner.call("GET", f"{at}/release")[1]
            seen = {"base": plan["base"], "live_number": plan["live_number"]}
            tally.timed("release", lambda seen=seen: owner.done("POST", f"{at}/release", seen))
        time.sleep(chance.uniform(1, 3))


def main(owners: int, seconds: float) -> None:
    """Run it and print a row for each kind of thing."""
    tally = _Tally()
    with tempfile.TemporaryDirectory() as folder, running(Path(folder)) as demo:
        people = [demo.as_owner(f"owner{number}") for number in range(owners)]
        until = time.monotonic() + seconds
        threads = [
            threading.Thread(target=_work, args=(one, seed, until, tally)) for seed, one in enumerate(people)
        ]  # fmt: skip
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    for kind, took in tally.took.items():
        took.sort()
        middle, late = took[len(took) // 2], took[int(0.95 * len(took))]
        print(f"| {owners} | {kind} | {len(took)} | {1000 * middle:.0f} ms | {1000 * late:.0f} ms |")
    print(f"answers: {dict(tally.answers)}, writes lost: {tally.lost}")


if __name__ == "__main__":
    main(int(sys.argv[1]), float(sys.argv[2]))
