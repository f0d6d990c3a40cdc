"""The logbook: notes, readings and photographs that people add, and corrections that keep what stood there."""

import hashlib
import io

from django.db import transaction
from PIL import Image, ImageOps, UnidentifiedImageError

from tutelar.server import models
from tutelar.server.actor import Actor
from tutelar.server.private import write_private
from tutelar.server.store import lookup
from tutelar.server.store.photos import photo_folder, photo_path
from tutelar.server.store.writes import WriteRejected, log, site_for_update

PHOTO_MOST_BYTES = 12_000_000
_MOST_PIXELS = 60_000_000  # of a JPEG, which is read at a fraction of its size
_MOST_WHOLE = 16_000_000  # of what has to be read whole
_LONGEST_SIDE = 2048


def add_entry(
    key: str,
    actor: Actor,
    *,
    text: str,
    subject: str = "",
    value: float | None = None,
    unit: str = "",
    photo: str = "",
    corrects: int | None = None,
) -> models.Event:
    """Add a line to the logbook: a note, a reading with its unit, a photograph, or the correction of a line.

    `subject` is a device's key, "" the site. Raises Rejected where there is nothing to say, a reading has no unit, or
    device, photograph or the line that is corrected do not exist.
    """
    text, unit = " ".join(text.split()), unit.strip()
    with transaction.atomic():
        row = site_for_update(key)
        old = None
        if corrects is not None:
            old = models.Event.objects.filter(site_key=row.key, pk=corrects).first()
            if old is None:
                raise WriteRejected(
                    f"The logbook of {row.name} has no line {corrects}.", [("corrects", str(corrects))], 404
                )
            subject = old.subject
        elif subject and not row.device_set.filter(key=subject).exists():
            raise WriteRejected(f"The site {row.name} has no device '{subject}'.", [("subject", subject)], 404)
        if not (text or photo or value is not None):
            raise WriteRejected(
                "Write what happened, give a reading, or add a photograph.", [("text", "Nothing is said.")]
            )
        if value is not None and not unit:
            raise WriteRejected(f"Give the unit of {value:g}, for example V or dBm.", [("unit", "A unit is needed.")])
        kept = photo_path(row.key, photo)
        if photo and not (kept and kept.exists()):
            raise WriteRejected(f"The photograph '{photo}' was not stored; send it first.", [("photo", photo)], 404)
        kind = "correction" if old else "reading" if value is not None else "photo" if photo and not text else "note"
        sentence = ": ".join(part for part in (text, f"{value:g} {unit}" if value is not None else "") if part)
        after = {"text": text, "value": value, "unit": unit, "photo": photo, "corrects": corrects}
        before = old.sentence if old else None
        return log(row, actor, kind, subject or row.key, sentence or "A photograph.", before, after)


def keep_photo(key: str, content: bytes) -> str:
    """Keep a photograph beside the database and return its name.

    It is written anew without anything but the picture: no place, camera or time; turned upright, and at most
    2,048 pixels long. Raises Rejected for what is no picture or too large.
    """
    row = lookup.site_row(key)
    if len(content) > PHOTO_MOST_BYTES:
        raise WriteRejected(
            f"The photograph has {len(content) / 1e6:.0f} MB; at most {PHOTO_MOST_BYTES / 1e6:.0f} are taken."
        )
    try:
        with Image.open(io.BytesIO(content), formats=("JPEG", "PNG", "WEBP")) as picture:
            most = _MOST_PIXELS if picture.format == "JPEG" else _MOST_WHOLE
            if picture.width * picture.height > most:
                said = f"The photograph has {picture.width} x {picture.height} pixels; at most {most / 1e6:.0f} million"
                raise WriteRejected(f"{said} are taken as {picture.format}.")
            picture.draft("RGB", (_LONGEST_SIDE, _LONGEST_SIDE))
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise WriteRejected("This is no photograph that can be read; send a JPEG, PNG or WebP file.") from None
    upright.thumbnail((_LONGEST_SIDE, _LONGEST_SIDE))
    out = io.BytesIO()
    bare = Image.new("RGB", upright.size)
    bare.paste(upright)
    bare.save(out, "JPEG", quality=85)
    name = hashlib.sha256(out.getvalue()).hexdigest()[:32] + ".jpg"
    path = photo_folder(row.key) / name
    path.parent.mkdir(parents=True, exist_ok=True)
    write_private(path, out.getvalue())
    return name
