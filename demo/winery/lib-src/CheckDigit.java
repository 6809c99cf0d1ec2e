/** The last digit of a bottle's number, so that a slip of the hand is noticed. */
public final class CheckDigit {
    private CheckDigit() {}

    /** Weights 3 and 1 in turn from the right; what is missing to the next ten. */
    public static int of(String digits) throws java.sql.SQLException {
        int sum = 0;
        for (int i = 0; i < digits.length(); i++) {
            char digit = digits.charAt(digits.length() - 1 - i);
            if (digit < '0' || digit > '9') {
                throw new java.sql.SQLException("'" + digits + "' is not a number of a bottle", "45030");
            }
            sum += (digit - '0') * (i % 2 == 0 ? 3 : 1);
        }
        return (10 - sum % 10) % 10;
    }

    /** The number with its digit behind it, and the digit alone. */
    public static void complete(String[] number, int[] digit) throws java.sql.SQLException {
        digit[0] = of(number[0]);
        number[0] = number[0] + digit[0];
    }
}
