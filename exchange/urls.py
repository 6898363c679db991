from django.urls import path

from exchange import health, views

urlpatterns = [
    path("healthz", health.alive, name="healthz"),
    path("readyz", health.ready, name="readyz"),
    path("status/", views.status_page, name="status"),
    path("account/import/", views.import_one, name="import"),
    path("car/<int:car_id>/lists/", views.lists_page, name="lists"),
    path("car/<int:car_id>/export/", views.export_one, name="export-car"),
    path("account/export/", views.export, name="export"),
    path("account/leave/", views.leave, name="leave"),
]
