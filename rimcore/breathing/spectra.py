"""Sound files: A-weighted level, third octaves, narrow spectrum, firing orders and drone."""

from __future__ import annotations

import io
import math
import warnings
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]

#: readings a block, and blocks at once; the line is about 1.3 Hz wide at 44.1 kHz
BLOCK, AT_ONCE = 32_768, 16
#: longest file [s] and least rate [Hz]; shorter than this tells nothing [s]
MOST_S, LEAST_RATE, LEAST_S = 1800.0, 8000, 1.0
#: a file is silent below this, and clipped where more than this share stands at full scale [dB of full scale, 1]
SILENT_DB, CLIPPED = -70.0, 1e-5
#: centre frequencies of third octaves, exact base ten (IEC 61260-1), and the band in which exhausts drone [Hz] (common
#: practice)
THIRDS = tuple(10 ** (n / 10) for n in range(13, 43))
NOMINAL = (
    20,
    25,
    31.5,
    40,
    50,
    63,
    80,
    100,
    125,
    160,
    200,
    250,
    315,
    400,
    500,
    630,
    800,
    1000,
    1250,
    1600,
    2000,
    2500,
    3150,
    4000,
    5000,
    6300,
    8000,
    10000,
    12500,
    16000,
)
DRONE_HZ = (40.0, 200.0)
#: a line that stands so far over what is round it is heard as a tone [dB] (common practice)
TONE_DB = 10.0
#: lines that are kept of the narrow spectrum go up to this [Hz]
NARROW_HZ = 500.0


@dataclass(frozen=True)
class Heard:
    """A recording, in dB of full scale until it is held against something.

    A-weighted level, third octaves, and lines up to 500 Hz.
    """

    seconds: float
    rate_hz: int
    level_a_db: float
    level_z_db: float
    thirds_db: tuple[float, ...]
    lines_hz: Array = field(repr=False)
    lines_db: Array = field(repr=False)
    faults: tuple[str, ...] = ()
    #: what brings it to sound pressure; None where nothing says so
    offset_db: float | None = None

    def absolute_a_db(self) -> float | None:
        """A-weighted level in dB(A); None where nothing calibrates the file."""
        return None if self.offset_db is None else self.level_a_db + self.offset_db


def _opened(file: BinaryIO, path: str | None) -> tuple[int, Any]:
    from scipy.io import wavfile

    head = file.read(12)
    file.seek(0)
    if head[:4] not in (b"RIFF", b"RIFX", b"RF64") or head[8:12] != b"WAVE":
        raise BadInput("is no WAV file; accepted: WAV, 8 to 32 bits, one or two channels", "file")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            rate, data = wavfile.read(path or file, mmap=path is not None)
    except ValueError:
        file.seek(0)
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                rate, data = wavfile.read(file)
        except Exception as error:
            raise BadInput("is a WAV file that can't be read; accepted: PCM or float, 8 to 32 bits", "file") from error
    except Exception as error:
        raise BadInput("is a WAV file that can't be read; accepted: PCM or float, 8 to 32 bits", "file") from error
    return int(rate), data


def hear(file: BinaryIO, path: str | None = None) -> Heard:
    """Read and analyse a WAV file block by block, so that a long one takes little memory.

    ``path`` is where the same file lies, if it does; it is mapped then instead of read.

    Raises
    ------
    BadInput : no WAV, too short, too long, or of too few readings a second
    """
    rate, data = _opened(file, path)
    if rate < LEAST_RATE:
        raise BadInput(f"has {rate} readings a second; accepted: {LEAST_RATE} or more", "file")
    seconds = len(data) / rate
    if not LEAST_S <= seconds <= MOST_S:
        raise BadInput(f"lasts {seconds:.1f} s; accepted: {LEAST_S:g} to {MOST_S:g} s", "file")
    power, clipped = _spectrum(data, rate)
    return _heard(power, rate, seconds, clipped)


def _floats(block: Any) -> tuple[Array, int]:
    """Readings of the first channels' mean between −1 and 1, and how many stand at full scale."""
    if block.ndim > 1:
        block = block[:, :2]
    if block.dtype.kind == "f":
        if not np.isfinite(block).all():
            raise BadInput("holds readings that are no numbers; accepted: a recording as the recorder wrote it", "file")
        found, full = block.astype(np.float32), int((np.abs(block) >= 0.9999).sum())
    elif block.dtype == np.uint8:
        found, full = (block.astype(np.float32) - 128.0) / 128.0, int(((block == 0) | (block == 255)).sum())
    else:
        top = float(np.iinfo(block.dtype).max)
        edge = top - top / 32768.0
        found = block.astype(np.float32) / np.float32(top)
        full = int(((block >= edge) | (block <= -edge)).sum())
    return (found.mean(axis=1) if found.ndim > 1 else found), full


def _spectrum(data: Any, rate: int) -> tuple[Array, float]:
    """Mean power of every line (Welch, Hann, half overlapped) as mean square, and the share of clipped readings."""
    from scipy.fft import rfft

    size = min(BLOCK, len(data))
    window = np.hanning(size + 1)[:size].astype(np.float32)
    scale = 2.0 / (float(window.astype(float).sum()) ** 2) / 1.5
    total, count, full = np.zeros(size // 2 + 1), 0, 0
    hop = size // 2
    starts = list(range(0, len(data) - size + 1, hop))
    for first in range(0, len(starts), AT_ONCE):
        chunk = starts[first : first + AT_ONCE]
        block, _ = _floats(data[chunk[0] : chunk[-1] + size])
        rows = np.lib.stride_tricks.sliding_window_view(block, size)[::hop]
        lines = rfft((rows - rows.mean(axis=1, keepdims=True)) * window, axis=1)
        total += (lines.real**2 + lines.imag**2).sum(axis=0)
        count += len(rows)
    for first in range(0, len(data), BLOCK * AT_ONCE):
        full += _floats(data[first : first + BLOCK * AT_ONCE])[1]
    channels = min(2, data.shape[1]) if data.ndim > 1 else 1
    return total / max(count, 1) * scale, full / (len(data) * channels)


def _heard(power: Array, rate: int, seconds: float, clipped: float) -> Heard:
    hz = np.arange(len(power)) * rate / (2.0 * (len(power) - 1))
    power = np.where(hz < 5.0, 0.0, power)
    weighting = 10 ** (a_weights_db(hz) / 10)
    z, a = _db(power.sum()), _db((power * weighting).sum())
    thirds = tuple(_db(power[(hz >= centre * 10**-0.05) & (hz < centre * 10**0.05)].sum()) for centre in THIRDS)
    faults = []
    if z < SILENT_DB:
        faults.append(f"it is silent: {z:.0f} dB of full scale".replace("-", "−"))
    if clipped > CLIPPED:
        faults.append(
            f"{100 * clipped:.2f} % of it stands at full scale: the recorder clipped, levels and tones are too low and too many"
        )
    low = hz <= NARROW_HZ
    return Heard(
        seconds=seconds,
        rate_hz=rate,
        level_a_db=a,
        level_z_db=z,
        thirds_db=thirds,
        lines_hz=hz[low],
        lines_db=np.array([_db(one) for one in power[low]]),
        faults=tuple(faults),
    )


def a_weights_db(hz: Array) -> Array:
    """A-weighting of many frequencies [dB]; −200 at 0 (IEC 61672-1).

    Parameters
    ----------
    hz : (n,), 0 or more [Hz]
    """
    from rimcore.breathing.sound import a_weighting_db

    return np.array([a_weighting_db(float(one)) if one > 0 else -200.0 for one in hz])


def _db(power: float) -> float:
    return 10.0 * math.log10(max(float(power), 1e-20))


@dataclass(frozen=True)
class Order:
    """A firing order: how often the engine does it a turn, its frequency [Hz], level there, and how far over its
    surroundings [dB].
    """

    name: str
    hz: float
    level_db: float
    over_db: float


def orders(heard: Heard, firing_hz: float) -> list[Order]:
    """Half, one, one and a half, two and three times the firing frequency, where the spectrum reaches.

    A tone is the loudest of the lines within 3 % of its place, held against the median of those within a third of an
    octave round it.

    Source: order analysis; widths are this program's own.

    Parameters
    ----------
    heard : the recording's spectrum
    firing_hz : over 0 [Hz]
    """
    found = []
    for times in (0.5, 1.0, 1.5, 2.0, 3.0):
        hz = times * firing_hz
        near = (heard.lines_hz >= hz * 0.97) & (heard.lines_hz <= hz * 1.03)
        round_it = (heard.lines_hz >= hz * 10**-0.1) & (heard.lines_hz <= hz * 10**0.1) & ~near
        if near.any() and round_it.any():
            level = float(heard.lines_db[near].max())
            found.append(Order(f"{times:g} × firing", hz, level, level - float(np.median(heard.lines_db[round_it]))))
    return found


@dataclass(frozen=True)
class Drone:
    """The loudest tone between 40 and 200 Hz; None where no line stands 10 dB over its surroundings."""

    hz: float
    level_db: float
    over_db: float


def drone(heard: Heard) -> Drone | None:
    """A tone that drones: the line of 40 to 200 Hz that is loudest among those that stand out by 10 dB."""
    return _drone(tuple(heard.lines_hz.tolist()), tuple(heard.lines_db.tolist()))


@lru_cache(maxsize=64)
def _drone(lines_hz: tuple[float, ...], lines_db: tuple[float, ...]) -> Drone | None:
    """Once for a spectrum."""
    all_hz, all_db = np.array(lines_hz), np.array(lines_db)
    best: Drone | None = None
    for row in np.flatnonzero((all_hz >= DRONE_HZ[0]) & (all_hz <= DRONE_HZ[1])):
        hz = all_hz[row]
        round_it = (np.abs(all_hz - hz) > 0.04 * hz) & (all_hz >= hz * 10**-0.1) & (all_hz <= hz * 10**0.1)
        over = float(all_db[row] - np.median(all_db[round_it])) if round_it.any() else 0.0
        if over >= TONE_DB and (best is None or all_db[row] > best.level_db):
            best = Drone(float(hz), float(all_db[row]), over)
    return best


def thirds_change_db(before: Heard, after: Heard) -> Sequence[float]:
    """After less before, third octave by third octave [dB].

    With the same recorder at the same place no calibration is wanted.
    """
    return [b - a for a, b in zip(before.thirds_db, after.thirds_db, strict=True)]


def level_change_db(before: Heard, after: Heard) -> float:
    """After less before, A-weighted [dB]; of one recorder at one place."""
    return after.level_a_db - before.level_a_db


def thirds_db(heard: Heard) -> Sequence[float]:
    """Third octaves as they are shown: sound pressure where something calibrates the file, else dB of full scale."""
    return [one + (heard.offset_db or 0.0) for one in heard.thirds_db]


def offset_db(meter_db: float, heard: Heard) -> float:
    """What brings a file to sound pressure.

    A meter's A-weighted reading at the same place and time, less what the file shows.

    Source: common practice: a file is told by a meter that stood beside it.

    Parameters
    ----------
    meter_db : A-weighted, at the same place and time [dB]
    heard : the recording's spectrum
    """
    return meter_db - heard.level_a_db


def wav_of(samples: Array, rate_hz: int) -> bytes:
    """A WAV file, 16 bits, of readings between −1 and 1.

    Source: WAVE with linear PCM, 16 bits.

    Parameters
    ----------
    samples : (n,), −1 to 1
    rate_hz : samples a second, over 0 [Hz]

    >>> wav_of(np.zeros(8000), 8000)[:4]
    b'RIFF'
    """
    from scipy.io import wavfile

    file = io.BytesIO()
    wavfile.write(file, rate_hz, np.round(np.clip(samples, -1.0, 1.0) * 32767).astype(np.int16))
    return file.getvalue()
