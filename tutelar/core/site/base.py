"""What the types of the document are made of: the words of its enumerations, its texts, addresses and numbers."""

import re
from ipaddress import IPv4Address, IPv4Network
from typing import Annotated, Literal, get_args

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    JsonValue,
    PlainSerializer,
    PlainValidator,
    StringConstraints,
    WithJsonSchema,
)

from tutelar.core.site.values import as_address, as_network, eleven_digits, mac_or_none

FORMAT = "tutelar-site"
OUTSIDE_ENDS = frozenset({"relay", "monitoring-station", "call-server", "management"})

Family = Literal[
    "camera",
    "recorder",
    "software-recorder",
    "encoder",
    "joystick-desk",
    "door-station",
    "indoor-monitor",
    "call-server",
    "panel",
    "reader",
    "keypad",
    "alarm-hub",
    "doorbell",
    "switch",
    "router",
    "injector",
    "other",
]
RECORDERS = frozenset({"recorder", "software-recorder"})
FAMILIES: frozenset[str] = frozenset(get_args(Family))
Addressing = Literal["fixed", "reserved", "leased"]
FactoryMode = Literal["leased", "fixed", "link-local", "leased-then-fixed"]
LinkKind = Literal[
    "records",
    "shows-on",
    "calls",
    "registers-at",
    "extends",
    "steers",
    "reads-for",
    "manages",
    "pages",
    "reports-to",
    "relays",
]
DateOrder = Literal["DMY", "MDY", "YMD"]
Result = Literal["pass", "fail", "silent", "skipped"]

KEY_PATTERN = r"^[a-z0-9]+(?:[._-][a-z0-9]+)*$"
KEY_LONGEST = 80
Slug = Annotated[str, StringConstraints(pattern=KEY_PATTERN, max_length=KEY_LONGEST), Field(examples=["cam-01"])]
CheckName = Annotated[
    str, StringConstraints(pattern=KEY_PATTERN, max_length=250), Field(examples=["answers"])
]  # of a link also what it leads to
_BREAKS = re.compile(r"\s*[\x00-\x1f\x7f-\x9f\u2028\u2029]+\s*")


def _one_line(value: object) -> object:
    """Return a text without line breaks and other signs that nobody sees; a space stands for them."""
    return _BREAKS.sub(" ", value).strip() if isinstance(value, str) and _BREAKS.search(value) else value


Text = Annotated[str, StringConstraints(max_length=2000)]
Line = Annotated[Text, BeforeValidator(_one_line)]
Name = Annotated[str, StringConstraints(min_length=1, max_length=200), BeforeValidator(_one_line)]
Address = Annotated[
    IPv4Address,
    PlainValidator(as_address),
    PlainSerializer(str, return_type=str),
    WithJsonSchema({"type": "string", "format": "ipv4", "examples": ["10.62.8.20"]}),
]
Cidr = Annotated[
    IPv4Network,
    PlainValidator(as_network),
    PlainSerializer(str, return_type=str),
    WithJsonSchema({"type": "string", "examples": ["10.62.8.0/24"]}),
]


def _tidy_mac(value: object) -> object:
    if not isinstance(value, str) or eleven_digits(value):
        return value
    return mac_or_none(value) or value


Mac = Annotated[Text, BeforeValidator(_tidy_mac)]  # a doubtful one stays as typed; `check` names it
Port = Annotated[int, Field(ge=1, le=65535)]
Prefix = Annotated[int, Field(ge=0, le=32)]
Count = Annotated[int, Field(ge=0, le=1_000_000)]
Seconds = Annotated[float, Field(ge=0, le=1_000_000)]
Amount = Annotated[float, Field(ge=0, le=1_000_000_000)]


class Part(BaseModel):
    """Base of every object of the document: frozen, strict, unknown keys refused unless they begin with x-."""

    model_config = ConfigDict(frozen=True, strict=True, extra="allow", allow_inf_nan=False, populate_by_name=True)
    __pydantic_extra__: dict[Annotated[str, StringConstraints(pattern=r"^x-")], JsonValue]
