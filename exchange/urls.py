from django.urls import path

from exchange import views

urlpatterns = [
    path("account/export/", views.export, name="export"),
    path("account/leave/", views.leave, name="leave"),
]
