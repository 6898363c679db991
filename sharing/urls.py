from django.urls import path

from sharing import open as opened
from sharing import views

urlpatterns = [
    path("car/<int:car_id>/share/", views.share, name="share"),
    path("car/<int:car_id>/share/link/<int:link_id>/", views.link_back, name="link-back"),
    path("car/<int:car_id>/share/helper/<int:helper_id>/", views.helper_gone, name="helper-gone"),
    path("car/<int:car_id>/share/offer/", views.offer_back, name="offer-back"),
    path("others/", views.others, name="others"),
    path("helping/<int:helper_id>/leave/", views.leave_car, name="leave-car"),
    path("offered/<int:offer_id>/", views.answer, name="offer-answer"),
    path("shared/<str:token>/", opened.shared, name="shared"),
    path("shared/<str:token>/<str:kind>/<int:picture_id>/", opened.picture, name="shared-picture"),
]
