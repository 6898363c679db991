from django.urls import path

from workshop import step_views, views, work_views

urlpatterns = [
    path("car/<int:car_id>/fit/", views.fit, name="fit"),
    path("car/<int:car_id>/open/", views.open_things, name="open"),
    path("car/<int:car_id>/fit/job/<int:job_id>/", views.job, name="job"),
    path("car/<int:car_id>/fit/job/<int:job_id>/<int:place>/", step_views.step, name="step"),
    path("car/<int:car_id>/fit/job/<int:job_id>/torque/", work_views.book, name="book"),
    path("car/<int:car_id>/fit/job/<int:job_id>/torque/<int:place>/", work_views.book_joint, name="book-joint"),
    path("car/<int:car_id>/fit/job/<int:job_id>/template/", work_views.template_keep, name="template-keep"),
    path("car/<int:car_id>/fit/tools/", work_views.tools, name="tools"),
    path("car/<int:car_id>/fit/check/", work_views.check_before, name="check-before"),
    path("car/<int:car_id>/fit/track-day/", work_views.track_day, name="track-day"),
    path("car/<int:car_id>/fit/removed/", work_views.removed, name="removed"),
    path("car/<int:car_id>/fit/removed/labels/", work_views.labels, name="labels"),
    path("car/<int:car_id>/fit/removed/<str:label>/", work_views.removed_row, name="removed-row"),
    path("car/<int:car_id>/fit/templates/", work_views.templates, name="templates"),
    path("car/<int:car_id>/fit/templates/<int:template_id>/<str:what>/", work_views.template_do, name="template-do"),
    path("car/<int:car_id>/fit/templates/<int:template_id>.json", work_views.template_out, name="template-out"),
    path("car/<int:car_id>/fit/snag/<int:snag_id>/", views.snag, name="snag"),
    path("car/<int:car_id>/fit/hours/<int:spell_id>/", views.hours, name="hours"),
    path("car/<int:car_id>/fit/photo/<int:photo_id>/", views.photo, name="photo"),
    path("car/<int:car_id>/fit/photo/<int:photo_id>/remove/", views.photo_remove, name="photo-remove"),
    path("car/<int:car_id>/fit/due/<int:follow_up_id>/", views.follow_up, name="follow-up"),
]
