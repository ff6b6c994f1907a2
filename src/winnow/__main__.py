"""``python -m winnow``."""

import sys

from winnow.start import main

sys.exit(main())
