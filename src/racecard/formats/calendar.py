"""A trial's soaks, sticking, looks, lifts and planned jobs as a calendar file (iCalendar, RFC 5545)."""

from datetime import UTC, date, datetime, timedelta

from icalendar import Calendar, Event

from racecard.core.log.days import date_of_day, planned_looks
from racecard.core.log.events import event_of
from racecard.core.model import Kind, Trial
from racecard.core.prepare.soak_clock import clock_of


def calendar_of(trial: Trial, at: datetime, now: datetime) -> bytes:
    """The calendar of a trial whose first unit goes in, or went in, at a moment.

    Args:
        trial: the trial.
        at: the hour of sticking or sowing, with its zone.
        now: when the file is made.
    """
    out = Calendar()
    out.add("prodid", "-//Racecard//Racecard//EN")
    out.add("version", "2.0")
    plan = trial.plan
    verb = "Stick" if plan.kind is Kind.CUTTING else "Sow"
    for step in clock_of(plan, at).steps:
        arm = plan.treatments[step.treatment].name
        if step.minutes >= 10:
            out.add_component(
                _timed(trial, f"{step.key}-start", f"Start {step.name}: {arm}", step.start, now)
            )
            out.add_component(
                _timed(trial, f"{step.key}-stop", f"End {step.name}: {arm}", step.stop, now)
            )
    out.add_component(_timed(trial, "set", f"{verb}: {plan.question}", at, now))
    looks = planned_looks(plan)
    for day in looks:
        what = "Lift and score" if day == looks[-1] else "Look"
        on = date_of_day(at, day, plan.time_zone)
        out.add_component(
            _whole_day(trial, f"day-{day}", f"{what}, day {day}: {plan.question}", on, now)
        )
    for day, each in plan.sample_lifts:
        on = date_of_day(at, day, plan.time_zone)
        says = f"Lift {each} of each treatment, chosen at random: {plan.question}"
        out.add_component(_whole_day(trial, f"lift-{day}", says, on, now))
    for code, day in plan.jobs:
        on = date_of_day(at, day, plan.time_zone)
        says = f"{event_of(code).name}: {plan.question}"
        out.add_component(_whole_day(trial, f"{code}-{day}", says, on, now))
    return bytes(out.to_ical())


def _event(trial: Trial, key: str, says: str, now: datetime) -> Event:
    event = Event()
    event.add("uid", f"{trial.id}-{key}@racecard.invalid")
    event.add("dtstamp", now.astimezone(UTC))
    event.add("summary", says)
    return event


def _timed(trial: Trial, key: str, says: str, at: datetime, now: datetime) -> Event:
    event = _event(trial, key, says, now)
    event.add("dtstart", at.astimezone(UTC))
    event.add("duration", timedelta(minutes=15))
    return event


def _whole_day(trial: Trial, key: str, says: str, on: date, now: datetime) -> Event:
    event = _event(trial, key, says, now)
    event.add("dtstart", on)
    event.add("dtend", on + timedelta(days=1))
    return event
