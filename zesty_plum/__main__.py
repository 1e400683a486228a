"""python -m zesty_plum"""

from .cli import main

main()
