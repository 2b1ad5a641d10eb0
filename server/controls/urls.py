"""Addresses of controls, readings and requirements."""

from django.urls import path

from server.controls import api, making, requiring
from server.controls.linkage import api as linkage

AT = "aircraft/<slug:slug>"
ONE = f"{AT}/controls/<slug:control>"

urlpatterns = [
    path(f"{AT}/controls", making.ControlsView.as_view()),
    path(ONE, api.SheetView.as_view()),
    path("control-patterns", making.PatternsView.as_view()),
    path(f"{ONE}/removal", making.ControlRemovalView.as_view()),
    path(f"{ONE}/surfaces", making.SurfacesView.as_view()),
    path(f"{ONE}/assess", api.AssessView.as_view()),
    path(f"{ONE}/readings", api.ReadingsView.as_view()),
    path(f"{ONE}/rounds", api.RoundsView.as_view()),
    path(f"{ONE}/sense-checks", api.SenseView.as_view()),
    path(f"{ONE}/decisions", api.DecisionView.as_view()),
    path(f"{ONE}/requirements", requiring.RequirementsView.as_view()),
    path(f"{ONE}/linkage", linkage.LinkageView.as_view()),
    path(f"{ONE}/linkage/removal", linkage.LinkageRemovalView.as_view()),
    path(f"{ONE}/linkage/assess", linkage.WhatIfView.as_view()),
    path(f"{ONE}/linkage/advice", linkage.AdviceView.as_view()),
    path(f"{ONE}/linkage/adjustments", linkage.AdjustmentsView.as_view()),
    path(f"{ONE}/linkage/variants", linkage.VariantsView.as_view()),
    path(f"{ONE}/linkage/variants/<int:variant>", linkage.VariantView.as_view()),
    path(f"{ONE}/linkage/play", linkage.PlayView.as_view()),
    path(f"{ONE}/linkage/file.json", linkage.FileView.as_view()),
    path(f"{ONE}/linkage/points.csv", linkage.PointsView.as_view()),
    path(f"{ONE}/part-checks", linkage.PartChecksView.as_view()),
    path("schemas/mechanism", linkage.SchemaView.as_view()),
    path(f"{AT}/readings/<int:reading>/corrections", api.CorrectionView.as_view()),
    path(f"{AT}/requirements/<int:requirement>", requiring.RequirementView.as_view()),
    path(
        f"{AT}/requirements/<int:requirement>/removal", requiring.RequirementRemovalView.as_view()
    ),
    path(f"{AT}/surfaces/<slug:surface>", requiring.SurfaceView.as_view()),
    path(f"{AT}/surfaces/<slug:surface>/removal", requiring.SurfaceRemovalView.as_view()),
    path(f"{AT}/sources", requiring.SourcesView.as_view()),
]
