"""Django's test runner with the demo loaded once, before the databases are cloned."""

from __future__ import annotations

import os
from typing import Any

from django.db import connection
from django.test.runner import DiscoverRunner

from testkit import database


class Runner(DiscoverRunner):
    """Makes the test database, loads the demo into it, and only then clones it for each process."""

    def setup_databases(self, **kwargs: Any) -> Any:
        """The demo is in every clone."""
        if os.environ.get(database.PREPARED):
            return database.clone_prepared()
        parallel, self.parallel = self.parallel, 1
        old = super().setup_databases(**kwargs)
        self.parallel = parallel
        if not old:
            return old
        database.load_demo()
        if parallel > 1:
            for n in range(parallel):
                connection.creation.clone_test_db(
                    suffix=str(n + 1), verbosity=self.verbosity, keepdb=False
                )
        return old

    def teardown_databases(self, old_config: Any, **kwargs: Any) -> None:
        """Clones and template go too; a clone of what was prepared stays for the next run."""
        if os.environ.get(database.PREPARED):
            return
        if old_config:
            if self.parallel > 1:
                for n in range(self.parallel):
                    connection.creation.destroy_test_db(suffix=str(n + 1), verbosity=0)
            database.drop_template()
        parallel, self.parallel = self.parallel, 1
        super().teardown_databases(old_config, **kwargs)
        self.parallel = parallel
