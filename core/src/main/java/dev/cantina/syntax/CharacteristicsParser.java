package dev.cantina.syntax;

import dev.cantina.syntax.Unit.Characteristics;
import dev.cantina.syntax.Unit.Rights;
import dev.cantina.syntax.Unit.SqlAccess;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;

/** Reads what a routine says of itself, in any order (ISO 9075-2, 11.60). */
final class CharacteristicsParser {
    private final TokenReader reader;
    private final Set<String> said = new HashSet<>();
    private String language = "SQL";
    private Optional<Boolean> deterministic = Optional.empty();
    private Optional<SqlAccess> access = Optional.empty();
    private int resultSets;
    private boolean nullOnNull;
    private Optional<Rights> rights = Optional.empty();
    private Optional<Name> specific = Optional.empty();
    private Optional<String> external = Optional.empty();
    private Optional<String> comment = Optional.empty();

    CharacteristicsParser(TokenReader reader) {
        this.reader = reader;
    }

    Characteristics characteristics() {
        Token first = reader.peek();
        while (one(first)) {
            first = reader.peek();
        }
        return new Characteristics(
                language,
                deterministic,
                access,
                resultSets,
                nullOnNull,
                rights,
                specific,
                external,
                comment);
    }

    /** Each kind is said once. */
    private boolean kind(String kind, Token at) {
        if (!said.add(kind)) {
            throw reader.failure(at, "the routine says " + kind + " twice", "say it once");
        }
        return true;
    }

    private boolean one(Token at) {
        if (reader.accept("LANGUAGE")) {
            language = word("SQL or JAVA", "after LANGUAGE", "SQL", "JAVA");
            return kind("LANGUAGE", at);
        }
        if (reader.accept("NOT", "DETERMINISTIC")) {
            deterministic = Optional.of(false);
            return kind("DETERMINISTIC", at);
        }
        if (reader.accept("DETERMINISTIC")) {
            deterministic = Optional.of(true);
            return kind("DETERMINISTIC", at);
        }
        if (reader.accept("NO", "SQL")) {
            return access(SqlAccess.NO_SQL, at);
        }
        if (reader.accept("CONTAINS", "SQL")) {
            return access(SqlAccess.CONTAINS_SQL, at);
        }
        if (reader.accept("READS", "SQL", "DATA")) {
            return access(SqlAccess.READS_SQL_DATA, at);
        }
        if (reader.accept("MODIFIES", "SQL", "DATA")) {
            return access(SqlAccess.MODIFIES_SQL_DATA, at);
        }
        if (reader.accept("DYNAMIC", "RESULT", "SETS")) {
            Token number = reader.take();
            if (number.kind() != Token.Kind.INTEGER || number.text().length() > 4) {
                throw reader.failure(number, "a number of result sets is wanted", "write 1");
            }
            resultSets = Integer.parseInt(number.text());
            return kind("DYNAMIC RESULT SETS", at);
        }
        if (reader.accept("RETURNS", "NULL", "ON", "NULL", "INPUT")) {
            nullOnNull = true;
            return kind("what it does ON NULL INPUT", at);
        }
        if (reader.accept("CALLED", "ON", "NULL", "INPUT")) {
            return kind("what it does ON NULL INPUT", at);
        }
        if (reader.accept("SQL", "SECURITY")) {
            String whose = word("INVOKER or DEFINER", "after SQL SECURITY", "INVOKER", "DEFINER");
            rights = Optional.of(Rights.valueOf(whose));
            return kind("SQL SECURITY", at);
        }
        if (reader.accept("SPECIFIC")) {
            specific = Optional.of(reader.name("a routine"));
            return kind("SPECIFIC", at);
        }
        if (reader.accept("PARAMETER", "STYLE")) {
            word("JAVA or SQL", "after PARAMETER STYLE", "JAVA", "SQL");
            return kind("PARAMETER STYLE", at);
        }
        if (reader.accept("EXTERNAL", "NAME")) {
            external = Optional.of(text("the name of a method", "after EXTERNAL NAME"));
            return kind("EXTERNAL NAME", at);
        }
        if (reader.accept("OLD", "SAVEPOINT", "LEVEL")) {
            return kind("SAVEPOINT LEVEL", at);
        }
        if (reader.sees("NEW", "SAVEPOINT", "LEVEL")) {
            throw reader.failure(
                    at,
                    "a routine has no savepoints of its own level here",
                    "leave NEW SAVEPOINT LEVEL out, and give its savepoints names of their own");
        }
        if (reader.accept("COMMENT")) {
            comment = Optional.of(text("a text", "after COMMENT"));
            return kind("COMMENT", at);
        }
        return false;
    }

    private boolean access(SqlAccess what, Token at) {
        access = Optional.of(what);
        return kind("what SQL it holds", at);
    }

    private String word(String wanted, String where, String... words) {
        if (!reader.seesAny(words)) {
            throw reader.expected(wanted, where);
        }
        return reader.take().text();
    }

    private String text(String wanted, String where) {
        if (reader.peek().kind() != Token.Kind.TEXT
                && reader.peek().kind() != Token.Kind.DELIMITED) {
            throw reader.expected(wanted + " in quotes", where);
        }
        return reader.take().text();
    }
}
