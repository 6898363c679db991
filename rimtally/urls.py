"""All addresses."""

from django.urls import include, path

urlpatterns = [
    path("", include("shell.urls")),
    path("", include("garage.urls")),
    path("", include("shelf.urls")),
    path("", include("bench.urls")),
    path("", include("planner.urls")),
    path("", include("workshop.urls")),
    path("", include("proof.urls")),
    path("", include("manual.urls")),
    path("", include("exchange.urls")),
    path("", include("sharing.urls")),
]

handler400 = "shell.views.bad_request"
handler404 = "shell.views.not_found"
handler500 = "shell.views.server_error"
