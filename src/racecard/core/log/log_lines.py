"""One row of the log in words."""

from racecard.core.log.beside_endpoint import also_counted
from racecard.core.log.lift import proposed_score
from racecard.core.log.stages import StageScale
from racecard.core.model import Amendment
from racecard.core.model.observation import Observation, Setting


def setting_said(s: Setting) -> str:
    """What was said of a unit at sticking or sowing, in one line."""
    if not s.is_set:
        return f"not set: {s.why}"
    said = [f"set {s.set_at:%Y-%m-%d %H:%M} UTC" if s.set_at else "set with the others"]
    said += [f"from {s.lot}"] if s.lot else []
    said += [f"size {s.size}"] if s.size else []
    return ", ".join(said) + (f" ({s.why})" if s.why else "")


def amendment_said(a: Amendment) -> str:
    """A change of the frozen plan, in one line."""
    change = f"{a.field.replace('_', ' ')}: {a.before} → {a.after}" if a.field else a.after
    return f"plan amended, {change} ({a.reason})"


def line_of(o: Observation, ladder: StageScale, done: str) -> str:
    """What a row saw, in one line, without its day and unit.

    Args:
        o: the row.
        ladder: the stages of its trial.
        done: what those that are counted did, such as came up.
    """
    if o.kind == "void":
        return "undone"
    row = ", filled by row" if o.as_row else ""
    if o.kind == "score":
        if o.score is None:
            each = ", ".join(
                f"{n:g} at {name[-1]}" for name, n in o.parts if name.startswith("score_") and n
            )
            return f"root scores: {each or 'no plant left'}"
        parts = ", ".join(f"{name} {value:g}" for name, value in o.parts)
        proposed = proposed_score(dict(o.parts))
        other = "" if proposed in (None, o.score) else f"; its parts make a {proposed}"
        return f"root score {o.score}{f' ({parts}{other})' if parts else ''}"
    if o.kind == "count":
        said = [f"{o.struck or 0} {done} so far"]
        said += [f"{o.lost} lost before"] if o.lost else []
        said += [f"{o.lost_struck} lost after"] if o.lost_struck else []
        said += [f"{o.removed} removed"] if o.removed else []
        said += [f"{n} {ladder.stage(code).name.lower()}" for code, n in also_counted(o.parts)]
        cause = f" ({o.loss})" if o.loss else ""
        return ", ".join(said) + cause + row
    if o.loss is not None:
        return f"lost: {o.loss}{row}"
    stage = "" if o.stage is None else ladder.stage(o.stage).name.lower()
    out = "removed on purpose" if o.removed else ""
    flags = [w for w, on in (("with a shoot", o.shoot), ("limp", o.wilted)) if on]
    return ", ".join([x for x in (stage, out) if x] + flags) + row
