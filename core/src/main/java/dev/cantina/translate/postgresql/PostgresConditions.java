package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundStatement;
import dev.cantina.translate.SourceForm;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** SQLSTATEs, signal items and diagnostics items between the standard and PL/pgSQL. */
public final class PostgresConditions {
    /** What the server raises where the standard has another state. */
    private static final Map<String, String> OTHERS =
            Map.of(
                    "22018", "22P02",
                    "42S02", "42P01",
                    "42S22", "42703",
                    "42S01", "42P07",
                    "24000", "34000");

    private static final Map<String, String> OPTIONS =
            Map.of(
                    "MESSAGE_TEXT", "MESSAGE",
                    "CONSTRAINT_NAME", "CONSTRAINT",
                    "TABLE_NAME", "TABLE",
                    "COLUMN_NAME", "COLUMN",
                    "SCHEMA_NAME", "SCHEMA");

    private PostgresConditions() {}

    /** The states by which the server raises what the standard calls by one. */
    static List<String> raisedFor(String state) {
        return OTHERS.containsKey(state) ? List.of(state, OTHERS.get(state)) : List.of(state);
    }

    /** What RAISE calls an item of SIGNAL. */
    static Optional<String> option(String item) {
        return Optional.ofNullable(OPTIONS.get(item));
    }

    /**
     * Where a diagnostics item is found: an expression, or a GET DIAGNOSTICS with {@code $} for its
     * target. Empty where it is not kept.
     *
     * @param inArm whether a handler of an exception is being run
     * @param fresh whether no other statement has emptied the area since the handler began
     * @param afterData whether the statement before it is one that ROW_COUNT counts
     */
    static String item(
            String item,
            BoundStatement.GetDiagnostics get,
            boolean inArm,
            boolean fresh,
            boolean afterData) {
        if (item.equals("ROW_COUNT")) {
            return afterData ? "GET DIAGNOSTICS $ = ROW_COUNT" : "";
        }
        boolean first =
                get.condition()
                        .map(SourceForm::bare)
                        .filter(
                                c ->
                                        c instanceof BoundExpression.Constant constant
                                                && Long.valueOf(1).equals(constant.value()))
                        .isPresent();
        if (!inArm || !first || !get.stacked() && !fresh) {
            return "";
        }
        return switch (item) {
            case "RETURNED_SQLSTATE" -> "cantina.standard(SQLSTATE)";
            case "MESSAGE_TEXT" -> "SQLERRM";
            case "MESSAGE_LENGTH" -> "char_length(SQLERRM)";
            case "CONDITION_NUMBER" -> "1";
            case "CONSTRAINT_NAME", "TABLE_NAME", "COLUMN_NAME", "SCHEMA_NAME" ->
                    "GET STACKED DIAGNOSTICS $ = " + item;
            default -> "";
        };
    }
}
