from django.urls import path

from bench.gearing import views

urlpatterns = [
    path("car/<int:car_id>/check/gearing/", views.gearing, name="gearing"),
]
