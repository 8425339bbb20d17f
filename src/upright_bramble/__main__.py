"""`python -m upright_bramble` is the same as `bramble`."""

from upright_bramble.cli import main

if __name__ == "__main__":
    main(prog_name="bramble")
