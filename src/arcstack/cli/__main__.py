from arcstack.cli import main

main()
