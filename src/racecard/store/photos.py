"""Photos beside the database: bounded, re-encoded, stripped of place and device data."""

import io
import re
import warnings
from dataclasses import replace
from hashlib import sha256
from pathlib import Path

from racecard.core.model.observation import Entry
from racecard.errors import InvalidInput, NotFound, StoreUnavailable
from racecard.store.chain import photos_of
from racecard.store.diary import load_entries, record_entries
from racecard.store.engine import Shed

MOST_BYTES = 20_000_000
_MOST_PIXELS = 60_000_000
_LONG_EDGE = 1600
_THUMB_EDGE = 240
_NAME = re.compile(r"^[0-9a-f]{32}([0-9a-f]{32})?$")  # photos of before have a name drawn at random


def keep_photo(shed: Shed, trial_id: str, entry: Entry, content: bytes) -> Entry:
    """Re-encode a photo, keep it and its thumbnail beside the database, and note it in the diary.

    The file's name is its hash, so that the chain of the log holds the picture too
    (`store/chain.py`); it tells nothing of unit or treatment.

    Raises:
        InvalidInput: too large, or no picture that can be read.
    """
    with shed.reading() as session:
        known = {e.id: e for e in load_entries(session, trial_id)}
    if entry.id in known:
        return known[entry.id]
    whole, thumb = _encoded(content)
    name = sha256(whole).hexdigest()
    folder = photos_of(shed.path)
    paths = {folder / f"{name}.jpg": whole, folder / f"{name}.thumb.jpg": thumb}
    paths = {path: data for path, data in paths.items() if not path.is_file()}
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for path, data in paths.items():
            path.write_bytes(data)
        (kept,) = record_entries(shed, trial_id, [replace(entry, kind="photo", what=name)])
    except BaseException as exc:
        for path in paths:
            path.unlink(missing_ok=True)
        if isinstance(exc, OSError):
            says = "The photo could not be written: make room on the disk, then it is tried again."
            raise StoreUnavailable(says) from exc
        raise
    return kept


def photo_path(shed: Shed, trial_id: str, name: str, *, thumb: bool) -> Path:
    """Where a photo of a trial lies; NotFound where the trial has none of that name."""
    with shed.reading() as session:
        names = {e.what for e in load_entries(session, trial_id) if e.kind == "photo"}
    path = photos_of(shed.path) / f"{name}{'.thumb' if thumb else ''}.jpg"
    if not _NAME.match(name) or name not in names or not path.is_file():
        raise NotFound("There is no such photo in this trial.")
    return path


def _encoded(content: bytes) -> tuple[bytes, bytes]:
    """The picture and its thumbnail as fresh JPEG, upright, with no metadata."""
    from PIL import Image, ImageOps, UnidentifiedImageError  # late: only for photos

    if len(content) > MOST_BYTES:
        raise InvalidInput(
            f"The photo is larger than {MOST_BYTES / 1e6:.0f} MB, the most that is kept.",
            "/photo",
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(content), formats=("JPEG", "PNG", "WEBP")) as picture:
                if picture.width * picture.height > _MOST_PIXELS:
                    raise InvalidInput("The photo has too many pixels: make it smaller.", "/photo")
                upright = ImageOps.exif_transpose(picture).convert("RGB")
    except InvalidInput:
        raise
    except (
        UnidentifiedImageError,
        OSError,
        ValueError,
        SyntaxError,
        Image.DecompressionBombError,
        Image.DecompressionBombWarning,
    ) as exc:
        raise InvalidInput(
            "This picture cannot be read: use a JPEG, PNG or WebP.", "/photo"
        ) from exc
    plain = Image.new("RGB", upright.size)
    plain.paste(upright)
    out = []
    for edge in (_LONG_EDGE, _THUMB_EDGE):
        plain.thumbnail((edge, edge))
        data = io.BytesIO()
        plain.save(data, "JPEG", quality=82)
        out.append(data.getvalue())
    return out[0], out[1]
