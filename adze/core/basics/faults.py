"""What cannot be taken, with the input it belongs to."""


class FieldFault(ValueError):
    """Something typed that cannot be; `field` names the input, the message says why and the mend."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field
