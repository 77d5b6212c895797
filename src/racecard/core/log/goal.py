"""What a plant did that reached its trial's goal, in words: rooted, came up, bloomed."""

from racecard.core.model import Kind, Outcome, Plan

_DONE = {
    (Kind.CUTTING, 5): "showed a root", (Kind.CUTTING, 6): "rooted", (Kind.CUTTING, 7): "were plantable",
    (Kind.SEED, 2): "germinated", (Kind.SEED, 3): "came up", (Kind.SEED, 4): "opened their seed leaves",
    (Kind.SEED, 5): "had a true leaf", (Kind.SEED, 6): "were plantable",
}  # fmt: skip
_DONE_ELSE = {
    (Outcome.SHOOT, 3): "had a shoot", (Outcome.SHOOT, 4): "had a shoot of 10 mm", (Outcome.SHOOT, 5): "opened a leaf",
    (Outcome.SHOOT, 6): "were plantable", (Outcome.BLOOM, 2): "had a bud", (Outcome.BLOOM, 3): "showed colour",
    (Outcome.BLOOM, 4): "bloomed", (Outcome.BULB, 3): "made a bulblet or bud", (Outcome.BULB, 4): "rooted",
    (Outcome.BULB, 5): "came up", (Outcome.BULB, 6): "were plantable",
}  # fmt: skip
_HAD = {
    "came up": "come up", "showed a root": "shown a root", "showed colour": "shown colour",
    "were plantable": "become plantable",
}  # fmt: skip
_PRESENT = {
    "showed": "show", "rooted": "root", "were": "are", "germinated": "germinate", "came": "come", "opened": "open",
    "had": "have", "bloomed": "bloom", "made": "make", "reached": "reach", "struck": "strike",
}  # fmt: skip


def done(plan: Plan) -> str:
    """What those did that reached the goal: rooted, came up; struck where a table does not say."""
    if plan.outcome is Outcome.OWN:
        if not 1 <= plan.endpoint <= len(plan.own_steps):
            return "struck"  # a draft whose steps are not written yet
        return f"reached “{plan.own_steps[plan.endpoint - 1]}”"
    if plan.outcome is not Outcome.USUAL:
        return _DONE_ELSE.get((plan.outcome, plan.endpoint), "struck")
    return _DONE.get((plan.kind, plan.endpoint), "struck")


def do(plan: Plan) -> str:
    """The same in the present, of several: root, come up, have a true leaf."""
    first, *rest = done(plan).split(" ", 1)
    return " ".join([_PRESENT[first], *rest])


def had_done(plan: Plan) -> str:
    """The same after had or have: come up, rooted."""
    return _HAD.get(done(plan), done(plan))
