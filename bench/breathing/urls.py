from django.urls import path

from bench.breathing import views

urlpatterns = [
    path("car/<int:car_id>/check/breathing/", views.breathing, name="breathing"),
]
