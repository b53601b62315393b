"""The short address a label opens: outside any garden, since the label does not say which."""

from django.urls import path

from elder.web.cut import label_views

urlpatterns = [path("b/<slug:code>/", label_views.open_label, name="label-open")]
