from django.urls import path

from proof import coasts, honest, laps, pulls, searching, views
from proof.book.views import build_book
from proof.planned import views as planned

urlpatterns = [
    path("car/<int:car_id>/prove/", views.prove, name="prove"),
    path("car/<int:car_id>/search/", searching.search, name="search"),
    path("car/<int:car_id>/prove/honest/", honest.honest, name="honest"),
    path("car/<int:car_id>/prove/pulls/", pulls.pulls, name="pulls"),
    path("car/<int:car_id>/prove/coast/", coasts.coast, name="coast"),
    path("car/<int:car_id>/prove/book/", build_book, name="build-book"),
    path("car/<int:car_id>/prove/laps/", laps.laps, name="laps"),
    path("car/<int:car_id>/prove/laps/<int:log_id>/", laps.lap_log, name="lap-log"),
    path("car/<int:car_id>/prove/<int:series_id>/", views.series, name="series"),
    path("car/<int:car_id>/prove/<int:series_id>/plan/", planned.plan_runs, name="plan-runs"),
    path("car/<int:car_id>/prove/planned/<int:plan_id>/", planned.run_plan, name="run-plan"),
    path("car/<int:car_id>/prove/run/<int:run_id>/", views.leave_out, name="leave-out"),
]
