"""Routes: the API, and the front end for everything else."""

from django.urls import URLPattern, URLResolver, include, path, re_path

from nublet.web.api import views
from nublet.web.bench import api as bench
from nublet.web.evidence import api as evidence
from nublet.web.people import api as people
from nublet.web.trials import api as trials

api_routes: list[URLPattern | URLResolver] = [
    path("session", people.SessionView.as_view()),
    path("people", people.PeopleView.as_view()),
    path("reference", trials.ReferenceView.as_view()),
    path("trials", trials.TrialsView.as_view()),
    path("trials/<int:trial_id>", trials.TrialView.as_view()),
    path("trials/<int:trial_id>/build-ups", trials.BuildUpsView.as_view()),
    path("trials/<int:trial_id>/build-ups/<int:build_up_id>", trials.BuildUpView.as_view()),
    path("trials/<int:trial_id>/design", trials.DesignView.as_view()),
    path("trials/<int:trial_id>/evidence", evidence.EvidenceView.as_view()),
    path("trials/<int:trial_id>/evidence/readings", evidence.ReadingsBehindView.as_view()),
    path("trials/<int:trial_id>/ranking", evidence.RankingView.as_view()),
    path("trials/<int:trial_id>/readings.csv", evidence.ReadingsCsvView.as_view()),
    path("judging", bench.JudgingListView.as_view()),
    path("judging/<int:trial_id>/looks/<slug:look>", bench.SittingView.as_view()),
    path("judging/<int:trial_id>/entries", bench.EntriesView.as_view()),
]

urlpatterns: list[URLPattern | URLResolver] = [
    path("healthz", views.health),
    path("api/", include(api_routes)),
    re_path(r"^api/", views.no_such_address),
    re_path(r"^(?!static/).*$", views.front_end),
]
