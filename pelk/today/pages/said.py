"""What Today says where it cannot be done."""

NOT_WARMTH = "“{text}” is not a temperature. Enter one number in {unit} from {low} to {high}."
