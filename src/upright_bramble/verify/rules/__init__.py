"""The rules that every code has, a topic a module. Each makes its checks from arrays over all stations; its
derivation is the same call, written down at one of them."""
