"""Conditions by place: readings, files of any logger, degree-days, alarms."""
