from django.urls import path

from bench.shake import views

urlpatterns = [
    path("car/<int:car_id>/check/shake/", views.shake, name="shake"),
]
