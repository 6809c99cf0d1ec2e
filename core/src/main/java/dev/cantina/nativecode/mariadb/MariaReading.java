package dev.cantina.nativecode.mariadb;

import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.OwnHeads;
import dev.cantina.nativecode.OwnReading;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.mariadb.MariaLexer.Token;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Reads scripts for MariaDB (its documentation, SQL Statements) without a server. */
public final class MariaReading implements OwnReading {
    @Override
    public OwnText read(Source source) throws NativeSyntaxException {
        List<OwnText.Unit> units = new ArrayList<>();
        List<OwnText.Table> tables = new ArrayList<>();
        List<Token> all = new ArrayList<>();
        for (MariaScript.Statement statement : MariaScript.of(source)) {
            all.addAll(statement.tokens());
            Optional<MariaRoutine> routine = MariaRoutine.of(statement, "");
            if (routine.isPresent()) {
                units.add(unit(routine.get(), Optional.empty()));
            } else if (statement.stored() >= 0
                    && statement.tokens().get(statement.stored()).is("package")) {
                units.addAll(packaged(statement));
            } else {
                new OwnHeads(source, statement.tokens()).table().ifPresent(tables::add);
            }
        }
        return new OwnText(source, units, tables, all);
    }

    private static List<OwnText.Unit> packaged(MariaScript.Statement statement) {
        List<OwnText.Unit> units = new ArrayList<>();
        try {
            Optional<MariaPackage> found = MariaPackage.of(statement, "");
            found.ifPresent(
                    p -> {
                        units.add(
                                new OwnText.Unit(
                                        OwnText.Kind.PACKAGE,
                                        p.name(),
                                        Optional.empty(),
                                        statement.span(),
                                        p.nameSpan(),
                                        List.of(),
                                        p.body() ? "BODY" : "",
                                        Optional.empty(),
                                        Optional.empty(),
                                        Optional.empty(),
                                        Optional.empty(),
                                        Optional.empty()));
                        p.routines()
                                .forEach(m -> units.add(unit(m.routine(), Optional.of(p.name()))));
                    });
        } catch (NativeSyntaxException e) {
            // Half typed: the server says what is wrong with it.
            return units;
        }
        return units;
    }

    private static OwnText.Unit unit(MariaRoutine routine, Optional<String> of) {
        List<Token> tokens = routine.statement().tokens();
        Source source = routine.span().source();
        boolean trigger = routine.what().equals("trigger");
        int name = 0;
        while (name < tokens.size() && tokens.get(name).start() < routine.nameSpan().start()) {
            name++;
        }
        OwnHeads heads = new OwnHeads(source, tokens);
        boolean lists = !trigger && name + 1 < tokens.size() && tokens.get(name + 1).is("(");
        List<OwnText.Parameter> parameters = lists ? heads.parameters(name + 1, "IN") : List.of();
        Optional<NativeStatement> block = Optional.empty();
        Optional<NativeSyntaxException> unread = Optional.empty();
        Optional<Span> body = Optional.empty();
        int last = routine.body() < 0 ? tokens.size() : routine.body();
        if (routine.body() >= 0 && routine.body() < tokens.size()) {
            body =
                    Optional.of(
                            source.span(
                                    tokens.get(routine.body()).start(),
                                    tokens.get(tokens.size() - 1).end()));
            try {
                block = Optional.of(MariaParser.parse(routine));
            } catch (NativeSyntaxException e) {
                unread = Optional.of(e);
            }
        }
        int headEnd = Math.min(last, tokens.size());
        if (!trigger) {
            int behind = lists ? heads.behind(name + 1) : name + 1;
            headEnd = behind;
            if (behind < last && tokens.get(behind).is("returns")) {
                headEnd++;
                while (headEnd < last
                        && !MariaRoutine.CHARACTERISTICS.contains(tokens.get(headEnd).text())) {
                    headEnd++;
                }
            }
        }
        return new OwnText.Unit(
                switch (routine.what()) {
                    case "trigger" -> OwnText.Kind.TRIGGER;
                    case "function" -> OwnText.Kind.FUNCTION;
                    default -> OwnText.Kind.PROCEDURE;
                },
                of.map(p -> routine.name().substring(p.length() + 1)).orElse(routine.name()),
                of,
                routine.span(),
                routine.nameSpan(),
                parameters,
                headEnd > name + 1
                        ? source.written()
                                .substring(
                                        tokens.get(name + 1).start(), tokens.get(headEnd - 1).end())
                                .replaceAll("\\s+", " ")
                        : "",
                routine.table(),
                Optional.empty(),
                body,
                block,
                unread);
    }

    @Override
    public List<? extends NativeToken> tokens(Source source, int from, int to) {
        MariaLexer lexer = MariaScript.lexer(source, from, to);
        List<Token> tokens = new ArrayList<>();
        try {
            while (true) {
                lexer.skip();
                if (lexer.at() >= to) {
                    return tokens;
                }
                tokens.add(lexer.next());
            }
        } catch (NativeSyntaxException e) {
            return tokens;
        }
    }

    @Override
    public List<NativeVariable> special(OwnText.Unit unit) {
        return unit.kind() == OwnText.Kind.TRIGGER
                ? List.of(
                        new NativeVariable("new", "row", NativeVariable.Kind.ROW, unit.at()),
                        new NativeVariable("old", "row", NativeVariable.Kind.ROW, unit.at()))
                : List.of();
    }

    @Override
    public List<String> statements() {
        return List.of(
                "BEGIN",
                "CALL",
                "CASE",
                "CLOSE",
                "COMMIT",
                "DECLARE",
                "DELETE FROM",
                "ELSE",
                "ELSEIF",
                "END",
                "END IF;",
                "END LOOP;",
                "END WHILE;",
                "FETCH",
                "FOR",
                "GET DIAGNOSTICS",
                "IF",
                "INSERT INTO",
                "ITERATE",
                "LEAVE",
                "LOOP",
                "OPEN",
                "REPEAT",
                "RESIGNAL",
                "RETURN",
                "ROLLBACK",
                "SAVEPOINT",
                "SELECT",
                "SET",
                "SIGNAL SQLSTATE",
                "START TRANSACTION",
                "UPDATE",
                "WHILE",
                "WITH");
    }

    /** Reserved words of the documentation that stand in routines, and words of its statements. */
    @Override
    public Set<String> reserved() {
        return Set.of(
                "all",
                "and",
                "as",
                "asc",
                "before",
                "begin",
                "between",
                "by",
                "call",
                "case",
                "close",
                "commit",
                "condition",
                "continue",
                "convert",
                "create",
                "cross",
                "cursor",
                "declare",
                "default",
                "delete",
                "desc",
                "distinct",
                "div",
                "do",
                "drop",
                "each",
                "else",
                "elseif",
                "end",
                "except",
                "exists",
                "exit",
                "false",
                "fetch",
                "for",
                "foreign",
                "from",
                "function",
                "group",
                "having",
                "if",
                "ignore",
                "in",
                "inner",
                "inout",
                "insert",
                "intersect",
                "interval",
                "into",
                "is",
                "iterate",
                "join",
                "leave",
                "left",
                "like",
                "limit",
                "loop",
                "mod",
                "natural",
                "not",
                "null",
                "offset",
                "on",
                "or",
                "order",
                "out",
                "over",
                "primary",
                "procedure",
                "regexp",
                "repeat",
                "replace",
                "resignal",
                "return",
                "returning",
                "returns",
                "right",
                "rlike",
                "rollback",
                "savepoint",
                "select",
                "set",
                "signal",
                "sql",
                "sqlstate",
                "table",
                "then",
                "to",
                "trigger",
                "true",
                "undo",
                "union",
                "unique",
                "until",
                "update",
                "using",
                "values",
                "when",
                "where",
                "while",
                "with",
                "xor");
    }

    /** The documentation of DECLARE Variable: the variable has precedence. */
    @Override
    public boolean variablesWin() {
        return true;
    }

    @Override
    public boolean declaresOnce() {
        return false;
    }

    @Override
    public List<String> types() {
        return List.of(
                "BIGINT",
                "BLOB",
                "BOOLEAN",
                "CHAR",
                "DATE",
                "DATETIME",
                "DECIMAL",
                "DOUBLE",
                "ENUM",
                "FLOAT",
                "INT",
                "JSON",
                "LONGTEXT",
                "SMALLINT",
                "TEXT",
                "TIME",
                "TIMESTAMP",
                "TINYINT",
                "VARBINARY",
                "VARCHAR");
    }
}
