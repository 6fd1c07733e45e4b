"""Load and soak: many rigs, phones that shoot, the bench on some screens; then held up, starved of room, killed.

    python bench/soak.py [MINUTES]

5,000 rigs with 200,000 arrows, 50 phones that post a shot every 5 s, the bench open on four screens; MINUTES of that
(2 where nothing is said). Bounded: about a quarter of an hour.
"""

from __future__ import annotations

import random
import sys
import tempfile
import threading
import time
from pathlib import Path

from cross_staff.demo.shop import fill
from cross_staff.storage.database import Database
from tests.crowd import crowd
from tests.soak import BENCH, RANGE, SHOT, SOON, Phone, Served, Soak, kept_shots, percentile_ms

RIGS, ARROWS, PHONES, SCREENS = 5000, 40, 50, 4
HOLD_S, KILLS, WARM, REQUESTS = 12.0, 50, 3000, 10_000
PAGES = ("card", "level", "sight_in", "tape", "mount", "prepare", "tape/print", "tape/pins")
IDLE, LOADED, HELD, FULL, KILLED, FLAT = "idle", "loaded", "data held", "disk full", "killed", "flat"


def rig_ids() -> list[int]:
    """Those that the phones shoot with, all over the shop."""
    return [1000 + 79 * number for number in range(PHONES)]


def flat(soak: Soak) -> list[tuple[int, float]]:
    """Ask for pages with four hands, each of which shoots now and then too; after how many requests how much memory it
    held [MB]."""
    served, seen, done = soak.served, [], 0
    lock, chance = threading.Lock(), random.Random(4)
    quiet = [each + 1 for each in rig_ids()[:40]]  # nobody shoots with them meanwhile

    def page() -> str:
        some = quiet[chance.randrange(len(quiet))] if chance.random() < 0.98 else 1 + chance.randrange(RIGS)
        if chance.random() < 0.15:
            return f"/?page={1 + chance.randrange(100)}"
        return f"/rigs/{some}/{PAGES[chance.randrange(len(PAGES))]}"

    def ask(phones: list[Phone]) -> None:
        nonlocal done
        while True:
            with lock:
                if done == WARM + REQUESTS:
                    return
                done += 1
                path, now, shoots = page(), done, chance.random() < 0.05
                phone = phones[chance.randrange(len(phones))]
            if shoots:
                phone.tap()
                phone.send()
            else:
                served.ask("any page", path)
            if now % 1000 == 0:
                seen.append((now, served.memory_mb()))
                print(f"  {now:6} requests: {seen[-1][1]:.0f} MB", flush=True)

    hands = [threading.Thread(target=ask, args=(soak.phones[hand::4],)) for hand in range(4)]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join()
    return sorted(seen)


def main() -> None:
    minutes = float(sys.argv[1]) if len(sys.argv) > 1 else 2.0
    with tempfile.TemporaryDirectory(prefix="cross-staff-soak-") as folder:
        served = Served(Path(folder))
        database = Database(served.file)
        database.migrate()
        fill(database)
        crowd(database, RIGS, ARROWS)
        database.close()
        print(f"{RIGS} rigs, {RIGS * ARROWS} arrows, {PHONES} phones, {SCREENS} screens", flush=True)
        served.start()
        try:
            trial(served, minutes)
        finally:
            served.stop()


def trial(served: Served, minutes: float) -> None:
    soak = Soak(served, rig_ids(), SCREENS)
    served.part = IDLE
    soak.alone(6)
    served.part = LOADED
    soak.start()
    time.sleep(60.0 * minutes)
    print(f"{'95 of 100 within':20} {'idle':>8} {'loaded':>8} {'ratio':>6} {'answers':>8}")
    for what in (SHOT, RANGE, BENCH, SOON):
        idle, loaded = (percentile_ms(served.answers, part, what) for part in (IDLE, LOADED))
        count = soak.count(LOADED, what)
        print(f"{what:20} {idle:5.0f} ms {loaded:5.0f} ms {loaded / idle:6.2f} {count:8}", flush=True)
    for part, hindered in ((HELD, served.held), (FULL, served.no_room)):
        served.part = part
        with hindered():
            time.sleep(HOLD_S)
        served.part = f"after {part}"
        kept, refused, read = (
            soak.count(part, what, lambda answer, status=status: answer.status == status)
            for what, status in ((SHOT, 200), (SHOT, 503), (BENCH, 200))
        )
        print(f"{part} for {HOLD_S:.0f} s: {kept} shots kept, {refused} told 503, {read} benches shown", flush=True)
        time.sleep(3.0 * soak.retry_s)
    served.part, soak.pace_s, soak.retry_s = KILLED, 1.0, 0.5
    soak.killed(KILLS, 1.5)
    kept, unanswered = (soak.count(KILLED, SHOT, lambda answer, s=s: answer.status == s) for s in (200, 0))
    print(f"killed {KILLS} times: {kept} shots kept meanwhile, {unanswered} had no answer, and came again", flush=True)
    soak.stop()
    served.part = FLAT
    held = [mb for now, mb in flat(soak) if now > WARM] or [served.memory_mb()]
    print(f"memory over {REQUESTS} requests: {min(held):.0f} to {max(held):.0f} MB, the last {held[-1] / held[0]:.3f} "
          "of the first", flush=True)  # fmt: skip
    wrong = kept_shots(served.file, soak.phones)
    print(*wrong[:20], sep="\n")
    failed = [answer for answer in served.answers if answer.status >= 500 and answer.status != 503]
    print(f"{taps(soak.phones)} shots, {len(wrong)} lost, doubled or otherwise; {len(served.answers)} requests, "
          f"{len(failed)} server errors")  # fmt: skip


def taps(phones: list[Phone]) -> int:
    """How many arrows were shot."""
    return sum(len(end.shots) for phone in phones for end in phone.ends)


if __name__ == "__main__":
    main()
