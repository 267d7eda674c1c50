"""`python -m yarrowdew.cli`."""

from yarrowdew.cli import main

if __name__ == "__main__":
    main()
