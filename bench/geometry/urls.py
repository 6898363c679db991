from django.urls import path

from bench.geometry import views

urlpatterns = [
    path("car/<int:car_id>/check/geometry/", views.geometry, name="geometry"),
]
