from django.urls import path

from bench.brakes import views

urlpatterns = [
    path("car/<int:car_id>/check/brakes/", views.brakes, name="brakes"),
]
