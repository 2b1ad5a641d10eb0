"""A recording from a WAV file: mono, ±1, with its rate. Reads 8, 16, 24 and 32 bit and float."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.io import wavfile

from core.basis.refused import Refused

MOST_BYTES = 16_000_000
MOST_SECONDS = 30.0


@dataclass(frozen=True)
class Recording:
    """Samples scaled to ±1, channels averaged; rate, Hz; how it was kept in the file."""

    samples: NDArray[np.float64]
    rate_Hz: float
    channels: int
    kept_as: str

    @property
    def seconds(self) -> float:
        """Its length, s."""
        return self.samples.size / self.rate_Hz


def read_wav(content: bytes) -> Recording:
    """The recording in a WAV file's bytes.

    Refuses an empty or too large file, one that is no WAV, and one without samples.
    """
    if not content:
        raise Refused("file", "is empty")
    if len(content) > MOST_BYTES:
        raise Refused("file", "is over 16 MB: a few seconds around one pluck are enough")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            rate, data = wavfile.read(io.BytesIO(content))
    except Exception as trouble:  # The library raises many kinds on files that are no WAV.
        raise Refused("file", f"cannot be read as WAV ({trouble})") from None
    if data.size == 0 or rate <= 0:
        raise Refused("file", "holds no samples")
    channels = 1 if data.ndim == 1 else data.shape[1]
    scaled = _scaled(data)
    mono = scaled if channels == 1 else _averaged(scaled)
    if mono.size / rate > MOST_SECONDS:
        raise Refused("file", "is over 30 s long: a few seconds around one pluck are enough")
    if not np.all(np.isfinite(mono)):
        raise Refused("file", "holds values that are no numbers")
    return Recording(mono, float(rate), channels, str(data.dtype))


def _scaled(data: NDArray[Any]) -> NDArray[np.float64]:
    if data.dtype == np.uint8:
        return np.asarray((data.astype(float) - 128.0) / 128.0)
    if data.dtype.kind == "i":
        # 24 bit comes left-justified in 32, so that one scale serves both.
        return np.asarray(data.astype(float) / 2.0 ** (8 * data.dtype.itemsize - 1))
    return np.asarray(data.astype(float))


def _averaged(data: NDArray[np.float64]) -> NDArray[np.float64]:
    """Channels averaged; one that clips must not hide behind a quiet one."""
    loudest = data[np.arange(len(data)), np.abs(data).argmax(axis=1)]
    clipped = np.abs(loudest) >= 0.999
    return np.asarray(np.where(clipped, np.sign(loudest), data.mean(axis=1)))
