from django.urls import path

from bench import views

urlpatterns = [
    path("car/<int:car_id>/check/", views.check_start, name="check-start"),
    path("car/<int:car_id>/check/<str:corner>/", views.check, name="check"),
    path("car/<int:car_id>/check/<str:corner>/pin/", views.pin, name="pin"),
]
