package dev.cantina.importing;

import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Stream;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * Values in the place of others: of the same type, length and shape, the same for the same, and
 * never one for two. Which one follows from a key, without which none can be told from the other.
 *
 * <p>A value's shape (which of its characters are letters, digits, anything else) says among how
 * many values it is one; a permutation of so many numbers, keyed by the shape, gives the other.
 */
final class MadeUp {
    private static final int ROUNDS = 8;
    private static final int PIECE = 200;

    /** Where the numbers of a type end: what is made up for a number fits wherever that fits. */
    private static final List<BigInteger> ENDS =
            Stream.of(7, 8, 15, 16, 23, 24, 31, 32, 63, 64)
                    .map(BigInteger.ONE::shiftLeft)
                    .sorted()
                    .toList();

    private final SecretKeySpec key;
    private final Map<Character.UnicodeBlock, Map<Boolean, List<Integer>>> letters =
            new HashMap<>();

    MadeUp(byte[] key) {
        this.key = new SecretKeySpec(key, "HmacSHA256");
    }

    /** The value in the place of another; itself where nothing of it can be changed. */
    String of(String value, LiveTable.Kind kind) {
        return switch (kind) {
            case WHOLE, DECIMAL -> number(value);
            case DATE, MOMENT -> moment(value);
            case TIME -> time(value);
            case UUID -> uuid(value);
            case BYTES -> hex(value, "bytes");
            default -> text(value);
        };
    }

    // ---------------------------------------------------------------- texts

    private String text(String value) {
        int[] all = value.codePoints().toArray();
        StringBuilder made = new StringBuilder();
        for (int i = 0; i < all.length; i += PIECE) {
            piece(all, i, Math.min(all.length, i + PIECE), made);
        }
        return made.toString();
    }

    private void piece(int[] all, int from, int to, StringBuilder made) {
        List<List<Integer>> alphabets = new ArrayList<>();
        StringBuilder shape = new StringBuilder("text ").append(from).append(' ');
        BigInteger size = BigInteger.ONE;
        BigInteger index = BigInteger.ZERO;
        for (int i = from; i < to; i++) {
            List<Integer> alphabet = alphabet(all[i]);
            alphabets.add(alphabet);
            if (alphabet.isEmpty()) {
                shape.appendCodePoint(all[i]);
                continue;
            }
            shape.append('\0').append(alphabet.get(0)).append('\0');
            BigInteger count = BigInteger.valueOf(alphabet.size());
            size = size.multiply(count);
            index = index.multiply(count).add(BigInteger.valueOf(alphabet.indexOf(folded(all[i]))));
        }
        BigInteger other = permuted(index, size, shape.toString());
        int[] letters = new int[to - from];
        for (int i = to - 1; i >= from; i--) {
            List<Integer> alphabet = alphabets.get(i - from);
            if (alphabet.isEmpty()) {
                letters[i - from] = all[i];
                continue;
            }
            BigInteger[] parts = other.divideAndRemainder(BigInteger.valueOf(alphabet.size()));
            other = parts[0];
            int letter = alphabet.get(parts[1].intValue());
            letters[i - from] = folded(all[i]) == all[i] ? letter : Character.toUpperCase(letter);
        }
        for (int letter : letters) {
            made.appendCodePoint(letter);
        }
    }

    private static int folded(int c) {
        return Character.toLowerCase(c);
    }

    /** The characters that one may become, small ones; none where it stays. */
    private List<Integer> alphabet(int c) {
        if (c >= '0' && c <= '9') {
            return range('0', '9');
        }
        if (c < 128 && folded(c) >= 'a' && folded(c) <= 'z') {
            return range('a', 'z');
        }
        boolean pair = Character.toUpperCase(folded(c)) != folded(c);
        boolean keeps = c == folded(c) || c == Character.toUpperCase(folded(c));
        if (c < 128 || !Character.isLetter(c) || !keeps) {
            return List.of();
        }
        List<Integer> all =
                letters.computeIfAbsent(Character.UnicodeBlock.of(c), b -> new HashMap<>())
                        .computeIfAbsent(pair, p -> ofBlock(folded(c), p));
        return all.contains(folded(c)) ? all : List.of();
    }

    private static List<Integer> range(int from, int to) {
        List<Integer> all = new ArrayList<>();
        for (int c = from; c <= to; c++) {
            all.add(c);
        }
        return all;
    }

    /** The letters of a block that take as much room: with two cases, or with one. */
    private static List<Integer> ofBlock(int letter, boolean pair) {
        Character.UnicodeBlock block = Character.UnicodeBlock.of(letter);
        int first = letter;
        while (first > 128 && Character.UnicodeBlock.of(first - 1) == block) {
            first--;
        }
        List<Integer> all = new ArrayList<>();
        for (int c = first; Character.UnicodeBlock.of(c) == block; c++) {
            int upper = Character.toUpperCase(c);
            boolean fits =
                    c >= 128
                            && Character.isLetter(c)
                            && folded(c) == c
                            && (upper != c) == pair
                            && folded(upper) == c
                            && upper >= 128
                            && bytes(c) == bytes(letter)
                            && bytes(upper) == bytes(Character.toUpperCase(letter));
            if (fits) {
                all.add(c);
            }
        }
        return all;
    }

    private static int bytes(int c) {
        return Character.toString(c).getBytes(StandardCharsets.UTF_8).length;
    }

    // ---------------------------------------------------------------- numbers

    private String number(String value) {
        boolean plain = value.matches("-?\\d+(\\.\\d+)?");
        if (!plain) {
            // 1e+300, NaN: the digits alone, so that it stays what it is.
            return value.matches("-?\\d.*") ? text(value) : value;
        }
        String sign = value.startsWith("-") ? "-" : "";
        String bare = value.substring(sign.length());
        int point = bare.indexOf('.');
        String digits = bare.replace(".", "");
        BigInteger number = new BigInteger(digits);
        BigInteger low = BigInteger.ZERO;
        BigInteger high = BigInteger.TEN;
        int length = number.toString().length();
        if (length > 1) {
            low = BigInteger.TEN.pow(length - 1);
            high = BigInteger.TEN.pow(length);
        }
        for (BigInteger end : point < 0 ? ENDS : List.<BigInteger>of()) {
            if (number.compareTo(end) >= 0) {
                low = low.max(end);
            } else {
                high = high.min(end);
            }
        }
        BigInteger made =
                low.add(permuted(number.subtract(low), high.subtract(low), "number " + low));
        String written = made.toString();
        written = "0".repeat(Math.max(0, digits.length() - written.length())) + written;
        return sign
                + (point < 0
                        ? written
                        : written.substring(0, point) + "." + written.substring(point));
    }

    // ---------------------------------------------------------------- moments

    private String moment(String value) {
        try {
            LocalDate date = LocalDate.parse(value.substring(0, Math.min(10, value.length())));
            int days = date.lengthOfYear();
            BigInteger day =
                    permuted(
                            BigInteger.valueOf(date.getDayOfYear() - 1),
                            BigInteger.valueOf(days),
                            "day " + date.getYear());
            String other = LocalDate.ofYearDay(date.getYear(), day.intValue() + 1).toString();
            return value.length() > 10
                    ? other + value.charAt(10) + time(value.substring(11))
                    : other;
        } catch (DateTimeException e) {
            // What is no day, as infinity, is nobody's.
            return value;
        }
    }

    private String time(String value) {
        if (!value.matches("[012]\\d:\\d\\d:\\d\\d.*")) {
            return value;
        }
        int seconds =
                Integer.parseInt(value.substring(0, 2)) * 3600
                        + Integer.parseInt(value.substring(3, 5)) * 60
                        + Integer.parseInt(value.substring(6, 8));
        if (seconds >= 86_400) {
            return value;
        }
        int other =
                permuted(BigInteger.valueOf(seconds), BigInteger.valueOf(86_400), "time")
                        .intValue();
        return String.format(
                        Locale.ROOT, "%02d:%02d:%02d", other / 3600, other / 60 % 60, other % 60)
                + value.substring(8);
    }

    // ---------------------------------------------------------------- digits of sixteen

    private String uuid(String value) {
        String digits = value.replace("-", "");
        if (digits.length() != 32) {
            return value;
        }
        // The version and the variant stay (RFC 9562, 4).
        String kept = digits.substring(12, 13) + digits.substring(16, 17);
        String open = digits.substring(0, 12) + digits.substring(13, 16) + digits.substring(17);
        String made = hex(open, "uuid" + kept);
        String all =
                made.substring(0, 12)
                        + kept.charAt(0)
                        + made.substring(12, 15)
                        + kept.charAt(1)
                        + made.substring(15);
        return String.join(
                "-",
                all.substring(0, 8),
                all.substring(8, 12),
                all.substring(12, 16),
                all.substring(16, 20),
                all.substring(20));
    }

    private String hex(String value, String shape) {
        if (value.isEmpty() || !value.matches("[0-9a-fA-F]+")) {
            return value;
        }
        BigInteger size = BigInteger.ONE.shiftLeft(4 * value.length());
        String made =
                permuted(new BigInteger(value, 16), size, shape + value.length()).toString(16);
        return "0".repeat(value.length() - made.length()) + made;
    }

    // ---------------------------------------------------------------- the permutation

    /**
     * A number below a size for each other: a Feistel network over the next even number of bits,
     * walked until it comes below the size.
     */
    private BigInteger permuted(BigInteger number, BigInteger size, String shape) {
        if (size.compareTo(BigInteger.ONE) <= 0) {
            return number;
        }
        int half = Math.max(1, (size.subtract(BigInteger.ONE).bitLength() + 1) / 2);
        BigInteger mask = BigInteger.ONE.shiftLeft(half).subtract(BigInteger.ONE);
        BigInteger at = number;
        do {
            BigInteger left = at.shiftRight(half);
            BigInteger right = at.and(mask);
            for (int round = 0; round < ROUNDS; round++) {
                BigInteger next = left.xor(mixed(right, round, size, shape, half).and(mask));
                left = right;
                right = next;
            }
            at = left.shiftLeft(half).or(right);
        } while (at.compareTo(size) >= 0);
        return at;
    }

    private BigInteger mixed(BigInteger half, int round, BigInteger size, String shape, int bits) {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(key);
            byte[] all = new byte[(bits + 7) / 8];
            for (int i = 0; i < all.length; i += 32) {
                mac.update((round + " " + i + " " + size + " " + shape + " ").getBytes(UTF_8));
                byte[] part = mac.doFinal(half.toByteArray());
                System.arraycopy(part, 0, all, i, Math.min(32, all.length - i));
            }
            return new BigInteger(1, all);
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java has HMAC with SHA-256", e);
        }
    }

    private static final java.nio.charset.Charset UTF_8 = StandardCharsets.UTF_8;
}
