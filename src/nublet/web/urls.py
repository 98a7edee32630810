"""Routes: the API, and the front end for everything else."""

from django.urls import URLPattern, URLResolver, include, path, re_path

from nublet.web.api import views
from nublet.web.bench import api as bench
from nublet.web.days import api as days
from nublet.web.evidence import api as evidence
from nublet.web.evidence import outlook_api as outlook
from nublet.web.jobs import api as jobs
from nublet.web.people import api as people
from nublet.web.shelf import api as shelf
from nublet.web.shelf import calculators_api as calculators
from nublet.web.trials import api as trials
from nublet.web.trials import build_ups_api as build_ups
from nublet.web.trials import design_api as design
from nublet.web.trials import sheets_api as sheets

api_routes: list[URLPattern | URLResolver] = [
    path("session", people.SessionView.as_view()),
    path("session/password", people.OwnPasswordView.as_view()),
    path("people", people.PeopleView.as_view()),
    path("people/<int:person_id>", people.PersonView.as_view()),
    path("reference", trials.ReferenceView.as_view()),
    path("units", calculators.UnitsView.as_view()),
    path("calculators", calculators.CalculatorsView.as_view()),
    path("calculators/<slug:calculator_id>", calculators.CalculatorView.as_view()),
    path("shelf/products", shelf.ProductsView.as_view()),
    path("shelf/products/<int:item_id>", shelf.ProductView.as_view()),
    path("shelf/products/<int:item_id>/batches", shelf.BatchesView.as_view()),
    path("shelf/products/<int:item_id>/batches/<int:batch_id>", shelf.BatchView.as_view()),
    path("shelf/species", shelf.WoodsView.as_view()),
    path("shelf/species/<int:item_id>", shelf.WoodView.as_view()),
    path("shelf/agents", shelf.AgentsView.as_view()),
    path("shelf/agents/<int:item_id>", shelf.AgentView.as_view()),
    path("shelf/build-ups", shelf.VersionsView.as_view()),
    *(
        path(f"shelf/{kind}/{address}", view.as_view(), {"kind": kind})
        for kind in shelf.KINDS
        for address, view in (
            ("<int:item_id>/duplicate", shelf.DuplicateView),
            ("<int:item_id>/archive", shelf.ArchiveView),
            ("file", shelf.ShelfFileView),
        )
    ),
    path("trials", trials.TrialsView.as_view()),
    path("trials/<int:trial_id>", trials.TrialView.as_view()),
    path("trials/<int:trial_id>/history", trials.HistoryView.as_view()),
    path("trials/<int:trial_id>/build-ups", build_ups.BuildUpsView.as_view()),
    path("trials/<int:trial_id>/build-ups/<int:build_up_id>", build_ups.BuildUpView.as_view()),
    path("trials/<int:trial_id>/build-ups/check", build_ups.CheckRecipeView.as_view()),
    path("trials/<int:trial_id>/build-ups/<int:build_up_id>/sheet", build_ups.SheetView.as_view()),
    path("trials/<int:trial_id>/build-ups/<int:build_up_id>/benchmark", design.BenchmarkView.as_view()),
    path("trials/<int:trial_id>/design", design.DesignView.as_view()),
    path("trials/<int:trial_id>/start", design.StartView.as_view()),
    path("trials/<int:trial_id>/boards/<int:board_id>", design.BoardView.as_view()),
    path("trials/<int:trial_id>/deviations", design.DeviationsView.as_view()),
    path("trials/<int:trial_id>/outlook", outlook.OutlookView.as_view()),
    path("trials/<int:trial_id>/sheets", sheets.TrialSheetsView.as_view()),
    path("jobs/<int:job_id>", jobs.JobView.as_view()),
    path("jobs/<int:job_id>/file", jobs.JobFileView.as_view()),
    path("trials/<int:trial_id>/evidence", evidence.EvidenceView.as_view()),
    path("trials/<int:trial_id>/evidence/readings", evidence.ReadingsBehindView.as_view()),
    path("trials/<int:trial_id>/ranking", evidence.RankingView.as_view()),
    path("trials/<int:trial_id>/readings.csv", evidence.ReadingsCsvView.as_view()),
    path("bench", days.BenchView.as_view()),
    path("instruments/<slug:kind>/reading", days.InstrumentReadingView.as_view()),
    path("due", days.DueView.as_view()),
    path("trials/<int:trial_id>/shopping", days.ShoppingView.as_view()),
    path("trials/<int:trial_id>/days", days.DaysView.as_view()),
    path("trials/<int:trial_id>/days/plan", days.PlanView.as_view()),
    path("trials/<int:trial_id>/days/entries", days.WorkEntriesView.as_view()),
    path("trials/<int:trial_id>/days/mixes", days.MixesView.as_view()),
    path("trials/<int:trial_id>/days/mixes/<int:mix_id>", days.MixView.as_view()),
    path("trials/<int:trial_id>/days/log", days.LogView.as_view()),
    path("trials/<int:trial_id>/days/calendar.ics", days.CalendarView.as_view()),
    path("trials/<int:trial_id>/days/sheet", days.DaySheetView.as_view()),
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

handler500 = views.server_fault
