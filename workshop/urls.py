from django.urls import path

from workshop import views

urlpatterns = [
    path("car/<int:car_id>/fit/", views.fit, name="fit"),
    path("car/<int:car_id>/open/", views.open_things, name="open"),
    path("car/<int:car_id>/fit/job/<int:job_id>/", views.job, name="job"),
    path("car/<int:car_id>/fit/job/<int:job_id>/<int:place>/", views.step, name="step"),
    path("car/<int:car_id>/fit/snag/<int:snag_id>/", views.snag, name="snag"),
    path("car/<int:car_id>/fit/hours/<int:spell_id>/", views.hours, name="hours"),
    path("car/<int:car_id>/fit/photo/<int:photo_id>/", views.photo, name="photo"),
    path("car/<int:car_id>/fit/photo/<int:photo_id>/remove/", views.photo_remove, name="photo-remove"),
    path("car/<int:car_id>/fit/due/<int:follow_up_id>/", views.follow_up, name="follow-up"),
]
