"""Addresses of documents, conflicts and bulletins."""

from django.urls import path

from server.sources import api, bulletins, statements

AT = "aircraft/<slug:slug>"

urlpatterns = [
    path(f"{AT}/documents", api.SourcesPageView.as_view()),
    path(f"{AT}/documents/<int:source>", api.DocumentView.as_view()),
    path(f"{AT}/documents/<int:source>/removal", api.DocumentRemovalView.as_view()),
    path(f"{AT}/statements", statements.StatementsView.as_view()),
    path(f"{AT}/statements/<int:statement>", statements.StatementView.as_view()),
    path(f"{AT}/statements/<int:statement>/removal", statements.StatementRemovalView.as_view()),
    path(f"{AT}/resolutions", api.ResolveView.as_view()),
    path(f"{AT}/directives", bulletins.DirectivesView.as_view()),
    path(f"{AT}/directives/<int:directive>", bulletins.DirectiveView.as_view()),
    path(f"{AT}/directives/<int:directive>/removal", bulletins.DirectiveRemovalView.as_view()),
    path(f"{AT}/directives/<int:directive>/compliance", bulletins.ComplyView.as_view()),
]
