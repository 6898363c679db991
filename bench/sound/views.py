"""The sound sheet: spectrum before and after with firing orders and drone, third octaves, levels with their conditions."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse

from bench.breathing.facts import engine_of
from bench.logs.found import logs_of
from bench.sound.facts import heard, judgements, pair
from garage.file import open_file
from garage.inhand import in_hand
from garage.logs.models import Log
from rimcore.breathing.sound import firing_hz, quarter_wave_mm
from rimcore.breathing.spectra import (
    NARROW_HZ,
    NOMINAL,
    Heard,
    drone,
    level_change_db,
    orders,
    thirds_change_db,
    thirds_db,
)
from rimcore.drawing.charts import chart
from shell.pages import page

#: gas in a side pipe against a drone, where nobody says another [°C]
SIDE_PIPE_C = 300.0


def sound(request: HttpRequest, car_id: int) -> HttpResponse:
    """Two recordings, one over the other."""
    file = open_file(request.user, car_id)
    before, after = pair(file)
    last = after or before
    now, then = heard(last), heard(before) if after is not None else None
    context: dict[str, Any] = {
        "judged": judgements(file),
        "logs": logs_of(file, "sound"),
        "last": last,
        "first": before if after is not None else None,
        "here": "sound",
        "in_hand": in_hand(file),
        "engine": engine_of(file),
    }
    if now is not None and last is not None:
        context |= _sheet(now, then, last, context["engine"].cylinders if context["engine"] else None)
    return page(request, file, "check", "bench/sound/sound.html", context)


def _sheet(now: Heard, then: Heard | None, last: Log, cylinders: int | None) -> dict[str, Any]:
    rpm = last.asked.get("rpm")
    marked = orders(now, firing_hz(float(rpm), cylinders)) if rpm and cylinders else []
    low = (now.lines_hz >= 20.0) & (now.lines_hz <= NARROW_HZ)
    same = then is not None and len(then.lines_hz) == len(now.lines_hz) and np.allclose(then.lines_hz, now.lines_hz)
    tone = drone(now)
    shown, earlier = thirds_db(now), thirds_db(then) if then is not None else None
    change = thirds_change_db(then, now) if then is not None else None
    thirds = [
        {
            "hz": hz,
            "now": shown[row],
            "then": earlier[row] if earlier else None,
            "change": change[row] if change else None,
        }
        for row, hz in enumerate(NOMINAL)
    ]
    return {
        "chart": chart(
            name="Narrow spectrum",
            unit="dB of full scale",
            across=now.lines_hz[low],
            value=now.lines_db[low],
            before=then.lines_db[low] if same and then is not None else None,
            band=None,
            here=tone.hz if tone else None,
            further=(),
            least_span=20.0,
            marks=[(one.hz, one.name.partition(" ")[0] + "×") for one in marked],
        ),
        "orders": marked,
        "tone": tone,
        "side_pipe_mm": quarter_wave_mm(tone.hz, SIDE_PIPE_C) if tone else None,
        "side_pipe_c": SIDE_PIPE_C,
        "rpm": rpm,
        "thirds": thirds,
        "absolute": now.absolute_a_db(),
        "change_a": level_change_db(then, now) if then is not None else None,
        "now": now,
        "before": then,
    }
