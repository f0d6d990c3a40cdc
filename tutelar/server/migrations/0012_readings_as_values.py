"""Readings keep keys and values; what was kept in words before is read out of the words, and the words stay with it."""

import re
from datetime import datetime

from django.db import migrations, models

ORDERS = {"day-month-year": "DMY", "month-day-year": "MDY", "year-month-day": "YMD"}
PLAIN = {"name": "name", "gateway": "gateway", "dns": "dns", "time-source": "time-source", "resolution": "stream"}
PORT = re.compile(r"port (\d+) open at (.+)")
LEASED = "its leased address"


def values_of(check, expected, keys):
    """Return the values of an expectation in words, None where they cannot be read out of it. `keys`: device by name."""
    if check in PLAIN:
        return {PLAIN[check]: expected}
    if found := PORT.fullmatch(expected):
        return {"port": found[1], "at": _at(found[2])}
    if check == "answers" and (found := re.fullmatch(r"an answer at (.+)", expected)):
        return {"at": _at(found[1])}
    if check == "right-device" and (found := re.fullmatch(r"(.+) at ([\d.]+|its leased address)", expected)):
        return {"who": found[1], "at": _at(found[2])}
    if check == "clock" and (found := re.fullmatch(r"within ([\d.]+) s", expected)):
        return {"within_s": found[1]}
    if check == "date-order" and expected in ORDERS:
        return {"order": ORDERS[expected]}
    if check == "mask" and expected.startswith("/"):
        return {"mask": expected[1:]}
    if check in ("linked", "records"):
        channels = re.findall(r"channel (\d+) of (.+?)(?:; |$)", expected)
        known = [f"{keys[name]}:{number}" for number, name in channels if name in keys]
        return {"channels": " ".join(known)} if channels and len(known) == len(channels) else None
    if check == "registered" and (found := re.fullmatch(r"registered at (.+?)( as number \d+)?", expected)):
        return {"station": keys[found[1]], "number": found[2] or ""} if found[1] in keys else None
    if check == "egress" and (found := re.fullmatch(r"(.+): opens from inside .*", expected)):
        return {"doors": found[1]}
    return None


def _at(text):
    return "" if text == LEASED else text


def forwards(apps, schema_editor):
    reading = apps.get_model("tutelar", "Reading")
    device = apps.get_model("tutelar", "Device")
    for site in apps.get_model("tutelar", "Site").objects.all():
        keys = {item.name or item.key: item.key for item in device.objects.filter(site=site)}
        found = []
        for row in reading.objects.filter(site=site).iterator(chunk_size=2000):
            _convert(row, keys)
            found.append(row)
        fields = ["by", "code", "basis", "expected", "measured", "took_ms", "offset_s", "extra", "at"]
        reading.objects.bulk_update(found, fields, batch_size=50)


def _convert(row, keys):
    rest = dict(row.rest)
    row.expected, row.measured = rest.pop("expected", None), rest.pop("measured", None)
    row.took_ms, row.offset_s, row.by = rest.pop("took_ms", None), rest.pop("offset_s", None), rest.pop("by", None)
    row.basis = rest.pop("basis", None)
    at = rest.pop("at", None)
    if at is not None and row.at is None:
        row.at = _moment(at)
        if row.at is None:
            rest["at"] = at
    row.extra = rest
    if row.basis is None or "." in row.check_name:
        return  # from a file, or of a link: judged as before
    values = values_of(row.check_name, row.expected or "", keys)
    row.code = "kept"
    former = {"former": row.expected} if values is None and row.expected else {}
    row.basis = {**row.basis, **former, **{key: value for key, value in (values or {}).items() if value}}


def _moment(text):
    try:
        found = datetime.fromisoformat(text)
    except (TypeError, ValueError):
        return None
    return found if found.tzinfo is not None else None


class Migration(migrations.Migration):
    dependencies = [("tutelar", "0011_names")]

    operations = [
        migrations.AddField("reading", "by", models.CharField(max_length=150, null=True)),
        migrations.AddField("reading", "code", models.CharField(max_length=80, default="")),
        migrations.AddField("reading", "values", models.JSONField(null=True)),
        migrations.AddField("reading", "basis", models.JSONField(null=True)),
        migrations.AddField("reading", "expected", models.TextField(null=True)),
        migrations.AddField("reading", "measured", models.TextField(null=True)),
        migrations.AddField("reading", "took_ms", models.FloatField(null=True)),
        migrations.AddField("reading", "offset_s", models.FloatField(null=True)),
        migrations.AddField("reading", "extra", models.JSONField(default=dict)),
        migrations.RunPython(forwards, migrations.RunPython.noop),
        migrations.RemoveField("reading", "rest"),
    ]
