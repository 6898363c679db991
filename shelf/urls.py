from django.urls import path

from shelf import tracing, views

urlpatterns = [
    path("car/<int:car_id>/choose/", views.choose, name="choose"),
    path("car/<int:car_id>/choose/pairs/", views.pairs, name="choose-pairs"),
    path("car/<int:car_id>/choose/table/", views.table, name="choose-table"),
    path("car/<int:car_id>/choose/pair/<int:wheel_id>/<int:tyre_id>/", views.pair, name="pair"),
    path("car/<int:car_id>/choose/tyre/<int:tyre_id>/trace/", tracing.trace, name="trace"),
    path("car/<int:car_id>/choose/tyre/<int:tyre_id>/card.jpg", tracing.card_picture, name="card-picture"),
    path("car/<int:car_id>/choose/<str:kind>/<int:candidate_id>/", views.candidate, name="candidate"),
    path("car/<int:car_id>/choose/<str:kind>/<int:candidate_id>/remove/", views.candidate_remove, name="candidate-remove"),
]
