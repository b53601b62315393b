"""The rules of the job: pure functions over frozen dataclasses, no Django and no files but the handbook.

Metric inside: °C, cm, days, probabilities 0..1, ``datetime.date``. ``today`` is always an argument.
Interval ends are inclusive unless a name says otherwise.
"""
