package dev.cantina.nativecode.mariadb;

import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.mariadb.MariaLexer.Token;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * What a routine asks of its statements afterwards: {@code ROW_COUNT()}, {@code FOUND_ROWS()} and
 * the diagnostics area. A probe changes all of them, so they are kept in variables as the
 * statements leave them, and the routine is answered from those.
 *
 * <p>As seen on the server: an assignment to a variable of the routine, a condition, OPEN, FETCH,
 * CLOSE and GET DIAGNOSTICS leave ROW_COUNT() alone. Statements that touch tables, and OPEN, empty
 * the diagnostics area; SET, DO, PREPARE, FETCH and CLOSE add to it at most. A handler begins with
 * the condition, and leaves it empty.
 */
final class MariaAsked {
    private static final Set<String> LEAVE_COUNTS =
            Set.of("OPEN", "FETCH", "CLOSE", "GET DIAGNOSTICS");
    private static final Set<String> LEAVE_CONDITIONS =
            Set.of("SET", "DO", "PREPARE", "DEALLOCATE", "FETCH", "CLOSE", "GET DIAGNOSTICS");

    private final List<Token> tokens;
    private final String source;
    private final boolean counts;
    private final boolean conditions;

    /** What is asked of the first condition, in capitals. */
    private final List<String> items;

    /**
     * @param source the text that the tokens are of
     */
    MariaAsked(List<Token> tokens, String source) {
        this.tokens = tokens;
        this.source = source;
        this.counts = tokens.stream().anyMatch(t -> t.is("row_count") || t.is("found_rows"));
        this.conditions = tokens.stream().anyMatch(t -> t.is("diagnostics"));
        this.items =
                tokens.stream()
                        .map(t -> t.text().toUpperCase(java.util.Locale.ROOT))
                        .filter(ITEMS::contains)
                        .distinct()
                        .collect(Collectors.toList());
    }

    /** The items of a condition (MariaDB, "GET DIAGNOSTICS"). */
    private static final Set<String> ITEMS =
            Set.of(
                    "RETURNED_SQLSTATE",
                    "MYSQL_ERRNO",
                    "MESSAGE_TEXT",
                    "CLASS_ORIGIN",
                    "SUBCLASS_ORIGIN",
                    "CONSTRAINT_CATALOG",
                    "CONSTRAINT_SCHEMA",
                    "CONSTRAINT_NAME",
                    "CATALOG_NAME",
                    "SCHEMA_NAME",
                    "TABLE_NAME",
                    "COLUMN_NAME",
                    "CURSOR_NAME",
                    "ROW_NUMBER");

    boolean isAny() {
        return counts || conditions;
    }

    boolean asksCounts() {
        return counts;
    }

    /** The variables that it is kept in. */
    String declarations() {
        StringBuilder text = new StringBuilder();
        if (isAny()) {
            text.append(" DECLARE cantina_h INT;");
        }
        if (counts) {
            text.append(" DECLARE cantina_r BIGINT DEFAULT ROW_COUNT();");
            text.append(" DECLARE cantina_f BIGINT DEFAULT FOUND_ROWS();");
        }
        if (conditions) {
            text.append(" DECLARE cantina_n, cantina_o INT DEFAULT 0;");
            for (int i = 0; i < items.size(); i++) {
                text.append(" DECLARE cantina_q")
                        .append(i)
                        .append(" VARCHAR(2000) CHARACTER SET utf8mb4;");
            }
        }
        return text.toString();
    }

    /** What stands at the beginning of the routine. */
    String beginning() {
        return conditions ? conditions(true) : "";
    }

    /** Reads the diagnostics area: in any case, or where there is something new in it. */
    private String conditions(boolean anyway) {
        List<String> all = new ArrayList<>();
        for (int i = 0; i < items.size(); i++) {
            all.add("cantina_q" + i + " = " + items.get(i));
        }
        String first =
                all.isEmpty() ? "" : " GET DIAGNOSTICS CONDITION 1 " + String.join(", ", all) + ";";
        return " GET DIAGNOSTICS cantina_o = NUMBER;"
                + (anyway ? " SET cantina_n = cantina_o;" : "")
                + " IF cantina_o > 0 THEN SET cantina_n = cantina_o;"
                + first
                + " END IF;";
    }

    /** What stands right before a statement, behind its probe. */
    String before(NativeStatement s) {
        boolean calls = counts && s.what().equals("CALL");
        // What CALL gives is a sum of all that was changed in it, by probes too.
        return " SET cantina_h = NULL; " + (calls ? "SET @cantina_n = 0; " : "");
    }

    /**
     * What stands right behind a statement.
     *
     * @param scope the variables that it sees, by their keys
     */
    String after(NativeStatement s, Map<String, NativeVariable> scope) {
        StringBuilder text = new StringBuilder();
        boolean alters =
                !LEAVE_COUNTS.contains(s.what())
                        && !(s.what().equals("SET") && setsOwnAlone(s, scope));
        if (counts && alters) {
            text.append(
                    s.what().equals("CALL")
                            ? " SET cantina_r = IF(ROW_COUNT() < 0, ROW_COUNT(), ROW_COUNT() -"
                                    + " @cantina_n), cantina_f = FOUND_ROWS();"
                            : " SET cantina_r = ROW_COUNT(), cantina_f = FOUND_ROWS();");
        }
        if (conditions) {
            text.append(conditions(!LEAVE_CONDITIONS.contains(s.what())));
        }
        // Where a handler has been, it has kept what there was.
        return text.length() == 0 ? "" : " IF cantina_h IS NULL THEN" + text + " END IF; ";
    }

    /** Whether a SET assigns to variables of the routine and to fields of rows alone. */
    private boolean setsOwnAlone(NativeStatement s, Map<String, NativeVariable> scope) {
        boolean target = false;
        int depth = 0;
        for (Token token : tokens) {
            if (token.start() < s.span().start() || token.end() > s.span().end()) {
                continue;
            }
            depth += token.is("(") ? 1 : token.is(")") ? -1 : 0;
            if (target) {
                boolean row = token.is("new") || token.is("old");
                if (!row && !scope.containsKey(token.text())) {
                    return false;
                }
            }
            target = depth == 0 && (token.is("set") || token.is(","));
        }
        return true;
    }

    /** What stands at the beginning of a handler, before its first probe. */
    String handlerBegins() {
        return (counts ? " SET cantina_r = ROW_COUNT(), cantina_f = FOUND_ROWS();" : "")
                + (conditions ? conditions(true) : "")
                + " ";
    }

    /** What stands at its end. */
    String handlerEnds() {
        return " SET cantina_h = 1" + (conditions ? ", cantina_n = 0" : "") + "; ";
    }

    /** A GET DIAGNOSTICS that is answered from what was kept: what stands before and behind it. */
    record Answer(String before, String behind) {}

    Optional<Answer> answer(NativeStatement s) {
        List<Token> own =
                tokens.stream()
                        .filter(
                                t ->
                                        t.start() >= s.span().start()
                                                && t.end() <= s.span().end()
                                                && !t.is(";"))
                        .toList();
        int at = 0;
        while (at < own.size() && !own.get(at).is("diagnostics")) {
            at++;
        }
        at++;
        boolean condition = at + 1 < own.size() && own.get(at).is("condition");
        if (condition && !own.get(at + 1).text().equals("1")) {
            return Optional.empty();
        }
        StringBuilder sets = new StringBuilder();
        for (int i = condition ? at + 2 : at; i + 2 < own.size(); i += 4) {
            String item = own.get(i + 2).text().toUpperCase(java.util.Locale.ROOT);
            String kept =
                    condition
                            ? items.contains(item) ? "cantina_q" + items.indexOf(item) : null
                            : item.equals("NUMBER")
                                    ? "cantina_n"
                                    : item.equals("ROW_COUNT") ? "cantina_r" : null;
            if (kept == null || !own.get(i + 1).is("=")) {
                return Optional.empty();
            }
            String target = source.substring(own.get(i).start(), own.get(i).end());
            sets.append(" SET ").append(target).append(" = ").append(kept).append(';');
        }
        return Optional.of(
                condition
                        ? new Answer(" IF cantina_n > 0 THEN" + sets + " ELSE ", " END IF; ")
                        : new Answer("", sets + " "));
    }
}
