"""Readings taken from a gauge: simulated, or replayed from a file; what it showed is judged before it fills a form."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from django import forms
from django.core.files.uploadedfile import UploadedFile

from gauges.driver import GAUGES, Gauge
from rimcore.logs.traces import Steady, Trace, read_trace, steady
from rimcore.quantities.errors import CoreError

#: largest file that is replayed
MOST_BYTES = 1_000_000


#: size of the trace on the page
WIDTH, HEIGHT = 320.0, 90.0


@dataclass(frozen=True)
class Taken:
    """What a gauge showed, channel by channel, and its trace as paths."""

    source: str
    channels: tuple[Steady, ...]
    paths: tuple[str, ...]
    unit: str

    def initial(self, prefix: str = "", suffix: str = "") -> dict[str, Any]:
        """What fills a form: the channel's field and its value; what could not be read stays blank."""
        return {f"{prefix}{one.name}{suffix}": round(one.value, 4) for one in self.channels if one.value is not None}

    @property
    def doubt(self) -> float | None:
        """The largest ± of its channels."""
        known = [one.uncertainty for one in self.channels if one.uncertainty is not None]
        return round(max(known), 3) if known else None

    @property
    def faults(self) -> list[str]:
        """What was wrong, channel by channel, in words."""
        return [f"{one.name} {fault}" for one in self.channels for fault in one.faults]


class ReplayForm(forms.Form):
    """A file that a gauge has written."""

    file = forms.FileField(label="Replay a file", help_text="CSV: t_s and a column a channel")

    def __init__(self, names: Sequence[str], unit: str, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.names, self.unit = tuple(names), unit

    def clean_file(self) -> UploadedFile:
        found: UploadedFile = self.cleaned_data["file"]
        if found.size is None or found.size > MOST_BYTES:
            raise forms.ValidationError("The file is over 1 MB; accepted: some minutes of readings.")
        try:
            self.trace = read_trace(found.read().decode("utf-8"), self.names, self.unit)
        except UnicodeDecodeError as error:
            raise forms.ValidationError("The file is no text; accepted: CSV in UTF-8.") from error
        except CoreError as error:
            raise forms.ValidationError(error.message[:1].upper() + error.message[1:] + ".") from error
        return found


def simulated(key: str, truth: Mapping[str, float], seed: int) -> Taken | None:
    """What a simulated gauge shows of what stands on it.

    None where there is no such gauge, or nothing stands on one of its channels.
    """
    gauge: Gauge | None = GAUGES.get(key)
    if gauge is None or any(name not in truth for name in gauge.channels):
        return None
    trace = gauge.show([truth[name] for name in gauge.channels], seed)
    return taken(trace, gauge.name, gauge.step, 1.5 if GAUGES[key].zero else 0.0)


def taken(trace: Trace, source: str, step: float, empty_until_s: float = 0.0) -> Taken:
    """A trace that is judged, for the page."""
    return Taken(
        source, steady(trace, step, empty_until_s), tuple(_path(trace, k) for k in range(len(trace.names))), trace.unit
    )


def _path(trace: Trace, k: int) -> str:
    """A channel as a line; it breaks where the gauge dropped out."""
    low, high = np.nanmin(trace.values), np.nanmax(trace.values)
    wide = (high - low) or 1.0
    parts, pen = [], "M"
    for t, value in zip(trace.time_s, trace.values[:, k], strict=True):
        if not np.isfinite(value):
            pen = "M"
            continue
        x = WIDTH * (t - trace.time_s[0]) / (trace.time_s[-1] - trace.time_s[0])
        parts.append(f"{pen}{x:.1f} {HEIGHT - 6 - (HEIGHT - 12) * (value - low) / wide:.1f}")
        pen = "L"
    return "".join(parts)
