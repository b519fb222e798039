"""Reach: from facts to needs, from needs to what each part costs to free, and the best route there."""

from oddbolt.core.reach.motions import bench_seconds
from oddbolt.core.reach.needs import Need, Needs, explain, needs_of
from oddbolt.core.reach.parts import Range, Reach, reach_of_all
from oddbolt.core.reach.questions import Question, answer, conflict, fresh_question, open_questions, questions
from oddbolt.core.reach.routes import Leg, Route, route_to
from oddbolt.core.reach.step_times import StepTime, step_times
from oddbolt.core.reach.time_study import TimeStudy, time_study

__all__ = [
    "Leg",
    "Need",
    "Needs",
    "Question",
    "Range",
    "Reach",
    "Route",
    "StepTime",
    "TimeStudy",
    "answer",
    "bench_seconds",
    "conflict",
    "explain",
    "fresh_question",
    "needs_of",
    "open_questions",
    "questions",
    "reach_of_all",
    "route_to",
    "step_times",
    "time_study",
]
