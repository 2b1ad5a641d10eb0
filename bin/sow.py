"""bin/sow: the tests' cluster, and the sowing on it."""

import os
import sys

from cluster import ROOT, database, main


def sow() -> None:
    """Run it while the cluster runs."""
    sys.path.insert(0, str(ROOT))
    from testkit.sowing import main as sown

    with database(lasting=False) as url:
        os.environ["DATABASE_URL"] = url
        sys.exit(sown())


if __name__ == "__main__":
    main(sow)
