"""Which databases this version knows: by the names of its migrations."""

from pathlib import Path

KNOWN = max(path.stem for path in (Path(__file__).parent / "migrations").glob("0*.py"))
