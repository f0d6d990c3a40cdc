"""python -m tutelar.cli"""

import sys

from tutelar.cli import main

sys.exit(main())
