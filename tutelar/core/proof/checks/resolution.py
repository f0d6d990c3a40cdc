"""Whether the main stream is as the model should send it: codec, size, rate."""

from tutelar.core.proof.check import Check, Outcome, Sight, Subject, Values, fails, passes, skips


def stream_words(codec: str, width: int, height: int, fps: float | None) -> str:
    """Return a stream in words: "H265, 2688 × 1520, 20 a second"."""
    rate = f", {fps:g} a second" if fps is not None else ""
    return f"{codec.upper()}, {width} × {height}{rate}"


def _wants(of: Subject) -> Values | None:
    main = of.site.main_stream_of(of.device)
    if main is None or "stream" not in of.services:
        return None
    return {"stream": stream_words(main.codec.lower(), main.width, main.height, main.fps)}


def _judge(at: Sight) -> Outcome:
    stream = at.seen.stream
    if stream is not None and stream.no_path is not None:
        return Outcome("no-path", {"path": stream.no_path})
    if stream is None or stream.codec is None or stream.width is None or stream.height is None:
        return Outcome("not-described")
    told = stream_words(stream.codec, stream.width, stream.height, stream.fps)
    wanted = at.wanted.get("stream", "")
    fits = told == wanted or (stream.fps is None and wanted.startswith(told))
    return Outcome("same" if fits else "another", {"stream": told})


CHECK = Check(
    key="resolution",
    title="Main stream as planned",
    rank=30,
    probe="stream",
    asked="devices with a stream whose model tells what it sends",
    wants=_wants,
    says="{stream}",
    endings={
        "same": passes("{stream}"),
        "another": fails("{stream}"),
        "no-path": skips("not told: there is no stream at {path}; write into the model's profile where it is"),
        "not-described": skips("not told: the stream does not describe itself"),
    },
    judge=_judge,
)
