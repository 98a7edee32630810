"""Routes: the API, and the front end for everything else."""

from typing import Any

from django.urls import URLPattern, URLResolver, include, path, re_path

from nublet.web.api import views
from nublet.web.bench import api as bench
from nublet.web.bench import exposing_api as exposing
from nublet.web.build_ups import api as build_ups
from nublet.web.designs import api as designs
from nublet.web.designs import sheets_api as sheets
from nublet.web.designs.selectors import panels_of_a_build_up
from nublet.web.evidence import api as evidence
from nublet.web.jobs import api as jobs
from nublet.web.outlook import api as outlook
from nublet.web.outlook import composer_api as composer
from nublet.web.people import api as people
from nublet.web.photographs import api as photographs
from nublet.web.practice import api as practice
from nublet.web.readings import api as readings
from nublet.web.shelf import api as shelf
from nublet.web.shelf import calculators_api as calculators
from nublet.web.stages.selectors import list_trials, summarise_trial
from nublet.web.trials import api as trials

# What a room needs of those above it is handed to it here.
for_build_ups: dict[str, Any] = {"summarise": summarise_trial, "count_panels": panels_of_a_build_up}

api_routes: list[URLPattern | URLResolver] = [
    path("session", people.SessionView.as_view()),
    path("session/password", people.OwnPasswordView.as_view()),
    path("people", people.PeopleView.as_view()),
    path("people/<int:person_id>", people.PersonView.as_view()),
    path("audit", people.AuditView.as_view()),
    path("reference", trials.ReferenceView.as_view()),
    path("units", calculators.UnitsView.as_view()),
    path("calculators", calculators.CalculatorsView.as_view()),
    path("calculators/<slug:calculator_id>", calculators.CalculatorView.as_view()),
    path("shelf/products", shelf.ProductsView.as_view()),
    path("shelf/products/<int:item_id>", shelf.ProductView.as_view()),
    path("shelf/products/<int:item_id>/history", outlook.ProductHistoryView.as_view()),
    path("shelf/products/<int:item_id>/batches", shelf.BatchesView.as_view()),
    path("shelf/products/<int:item_id>/batches/<int:batch_id>", shelf.BatchView.as_view()),
    *(
        route
        for kind, (all_of_them, one) in shelf.THINGS.items()
        for route in (
            path(f"shelf/{kind}", all_of_them.as_view()),
            path(f"shelf/{kind}/<int:item_id>", one.as_view()),
        )
    ),
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
    path("trials", trials.TrialsView.as_view(summarise=summarise_trial, list_lines=list_trials)),
    path("trials/<int:trial_id>", trials.TrialView.as_view(summarise=summarise_trial)),
    path("trials/<int:trial_id>/unblind", trials.UnblindView.as_view(summarise=summarise_trial)),
    path("trials/<int:trial_id>/history", trials.HistoryView.as_view()),
    path("trials/<int:trial_id>/crossing", build_ups.CrossingView.as_view(summarise=summarise_trial)),
    path("trials/<int:trial_id>/sections", build_ups.SectionsView.as_view()),
    path(
        "trials/<int:trial_id>/build-ups/<int:build_up_id>/without-wax",
        build_ups.WithoutWaxView.as_view(summarise=summarise_trial),
    ),
    path("trials/<int:trial_id>/build-ups", build_ups.BuildUpsView.as_view(**for_build_ups)),
    path(
        "trials/<int:trial_id>/build-ups/<int:build_up_id>",
        build_ups.BuildUpView.as_view(**for_build_ups),
    ),
    path(
        "trials/<int:trial_id>/build-ups/check",
        build_ups.CheckRecipeView.as_view(count_panels=panels_of_a_build_up),
    ),
    path(
        "trials/<int:trial_id>/build-ups/<int:build_up_id>/sheet",
        build_ups.SheetView.as_view(count_panels=panels_of_a_build_up),
    ),
    path(
        "trials/<int:trial_id>/build-ups/<int:build_up_id>/benchmark",
        build_ups.BenchmarkView.as_view(summarise=summarise_trial),
    ),
    path("trials/<int:trial_id>/design", designs.DesignView.as_view()),
    path("trials/<int:trial_id>/start", designs.StartView.as_view()),
    path("trials/<int:trial_id>/boards/<int:board_id>", designs.BoardView.as_view()),
    path("trials/<int:trial_id>/deviations", designs.DeviationsView.as_view()),
    path("trials/<int:trial_id>/outlook", outlook.OutlookView.as_view()),
    path("trials/<int:trial_id>/protocol", composer.ComposerView.as_view()),
    path("library", composer.LibraryView.as_view()),
    path("library/compose", composer.ShelfComposerView.as_view()),
    path("trials/<int:trial_id>/sheets", sheets.TrialSheetsView.as_view()),
    path("jobs/<int:job_id>", jobs.JobView.as_view()),
    path("jobs/<int:job_id>/file", jobs.JobFileView.as_view()),
    path("trials/<int:trial_id>/evidence", evidence.EvidenceView.as_view()),
    path("trials/<int:trial_id>/evidence/board", evidence.BoardView.as_view()),
    path("trials/<int:trial_id>/evidence/otherwise", evidence.OtherwiseView.as_view()),
    path("trials/<int:trial_id>/evidence/looks", evidence.OverTimeView.as_view()),
    path("trials/<int:trial_id>/evidence/readings", evidence.ReadingsBehindView.as_view()),
    path("trials/<int:trial_id>/evidence/readings/<int:reading_id>", evidence.ReadingBehindView.as_view()),
    path("trials/<int:trial_id>/ranking", evidence.RankingView.as_view()),
    path("trials/<int:trial_id>/readings.csv", evidence.ReadingsCsvView.as_view()),
    path("bench", bench.BenchView.as_view()),
    path("instruments/<slug:kind>/reading", bench.InstrumentReadingView.as_view()),
    path("due", bench.DueView.as_view()),
    path("trials/<int:trial_id>/shopping", bench.ShoppingView.as_view()),
    path("trials/<int:trial_id>/days", bench.DaysView.as_view()),
    path("trials/<int:trial_id>/days/plan", bench.PlanView.as_view()),
    path("trials/<int:trial_id>/days/entries", bench.WorkEntriesView.as_view()),
    path("trials/<int:trial_id>/days/mixes", bench.MixesView.as_view()),
    path("trials/<int:trial_id>/days/mixes/<int:mix_id>", bench.MixView.as_view()),
    path("trials/<int:trial_id>/days/pours", bench.PoursView.as_view()),
    path("trials/<int:trial_id>/expose", exposing.ExposeView.as_view()),
    path("trials/<int:trial_id>/days/spots", exposing.SpotsView.as_view()),
    path("trials/<int:trial_id>/days/log", bench.LogView.as_view()),
    path("trials/<int:trial_id>/days/calendar.ics", bench.CalendarView.as_view()),
    path("trials/<int:trial_id>/days/sheet", bench.DaySheetView.as_view()),
    path("judging", readings.JudgingListView.as_view()),
    path("judging/calendar.ics", readings.LooksCalendarView.as_view()),
    path("judging/<int:trial_id>/looks/<slug:look>", readings.SittingView.as_view()),
    path("judging/<int:trial_id>/entries", readings.EntriesView.as_view()),
    path("judging/<int:trial_id>/photographs", photographs.PhotographsView.as_view()),
    path("practice", practice.PracticeView.as_view()),
    path("practice/drills/<int:drill_id>", practice.DrillView.as_view()),
    path("practice/drawings/<slug:scale>", practice.DrawingsView.as_view()),
    path("photographs/<int:photograph_id>", photographs.PhotographView.as_view()),
    path("photographs/<int:photograph_id>/<slug:size>", photographs.PhotographFileView.as_view()),
]

urlpatterns: list[URLPattern | URLResolver] = [
    path("healthz", views.health),
    path("sw.js", views.service_worker),
    path("api/", include(api_routes)),
    re_path(r"^api/", views.no_such_address),
    re_path(r"^(?!static/).*$", views.front_end),
]

handler500 = views.server_fault
