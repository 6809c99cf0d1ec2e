package dev.cantina;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.Set;

/**
 * A program in another dress: other blanks, line breaks and letter case, and comments that hold
 * what would be code elsewhere. It means the same.
 */
public final class Dress {
    private static final List<String> COMMENTS =
            List.of(
                    "/* it's */",
                    "/* ; END; */",
                    "/* ( BEGIN \" */",
                    "/* WHERE SELECT INTO x */",
                    "-- it's ( a; comment\n",
                    "-- END IF; \"\n",
                    "/* /* nested */ ' */");

    /** What must stay together with what is right before it, or right behind. */
    private static final Set<String> TOGETHER = Set.of("U&", "X", "u&", "x");

    private final Random random;
    private final Set<String> seen = new HashSet<>();

    private Dress(long seed) {
        random = new Random(seed);
    }

    /** A program's text, dressed; the same for the same seed. */
    public static String of(String program, long seed) {
        return new Dress(seed).dressed(program);
    }

    private String dressed(String program) {
        StringBuilder text = new StringBuilder();
        String before = "";
        for (String token : tokens(program)) {
            boolean apart = token.isBlank() || token.startsWith("--") || token.startsWith("/*");
            if (apart) {
                text.append(
                        token.startsWith("/*") || token.startsWith("--") ? token : space(token));
            } else {
                text.append(between(before, token)).append(spelled(token));
            }
            before = token;
        }
        return text.toString();
    }

    /** Blanks where there were some. */
    private String space(String old) {
        return switch (random.nextInt(8)) {
            case 0 -> "\n";
            case 1 -> "  \t ";
            case 2 -> " " + COMMENTS.get(random.nextInt(COMMENTS.size())) + " ";
            case 3 -> "\n\n   ";
            default -> old;
        };
    }

    /** Blanks where there were none, now and then. */
    private String between(String before, String token) {
        boolean blank = before.isBlank() || before.startsWith("--") || before.startsWith("/*");
        if (blank || TOGETHER.contains(before) || token.equals("'") || random.nextInt(12) > 0) {
            return "";
        }
        return random.nextBoolean() ? " " : " /* ' */ ";
    }

    /** A word in whatever case, but where it stands first: so its author wrote it. */
    private String spelled(String token) {
        if (!Character.isLetter(token.charAt(0))) {
            return token;
        }
        boolean first = seen.add(token.toUpperCase(Locale.ROOT));
        return switch (first ? 3 : random.nextInt(5)) {
            case 0 -> token.toUpperCase(Locale.ROOT);
            case 1 -> token.toLowerCase(Locale.ROOT);
            default -> token;
        };
    }

    private static List<String> tokens(String text) {
        List<String> tokens = new ArrayList<>();
        int at = 0;
        while (at < text.length()) {
            int end = end(text, at);
            tokens.add(text.substring(at, end));
            at = end;
        }
        return tokens;
    }

    private static int end(String text, int at) {
        char c = text.charAt(at);
        int end = at + 1;
        if (Character.isWhitespace(c)) {
            while (end < text.length() && Character.isWhitespace(text.charAt(end))) {
                end++;
            }
        } else if (text.startsWith("--", at)) {
            int line = text.indexOf('\n', at);
            end = line < 0 ? text.length() : line + 1;
        } else if (text.startsWith("/*", at)) {
            int depth = 0;
            end = at;
            do {
                depth += text.startsWith("/*", end) ? 1 : text.startsWith("*/", end) ? -1 : 0;
                end += text.startsWith("/*", end) || text.startsWith("*/", end) ? 2 : 1;
            } while (depth > 0);
        } else if (c == '\'' || c == '"') {
            end = text.indexOf(c, end) + 1;
            while (end < text.length() && text.charAt(end) == c) {
                end = text.indexOf(c, end + 1) + 1;
            }
        } else if (text.startsWith("U&", at) || text.startsWith("u&", at)) {
            end = at + 2;
        } else if (Character.isLetterOrDigit(c) || c == '_' || c == '.') {
            boolean number = !Character.isLetter(c) && c != '_';
            while (end < text.length()
                    && (Character.isLetterOrDigit(text.charAt(end))
                            || text.charAt(end) == '_'
                            || number && text.charAt(end) == '.'
                            || number
                                    && (text.charAt(end) == '+' || text.charAt(end) == '-')
                                    && Character.toUpperCase(text.charAt(end - 1)) == 'E')) {
                end++;
            }
        } else if (at + 1 < text.length()
                && Set.of("<>", "<=", ">=", "=>", "||", "!=", "::", "..")
                        .contains(text.substring(at, at + 2))) {
            end = at + 2;
        }
        return end;
    }
}
