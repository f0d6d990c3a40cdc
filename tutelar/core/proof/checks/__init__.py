"""The checks, a file each. They find themselves (`tutelar.core.proof.registry`)."""
