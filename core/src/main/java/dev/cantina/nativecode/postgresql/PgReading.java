package dev.cantina.nativecode.postgresql;

import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.OwnHeads;
import dev.cantina.nativecode.OwnReading;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.postgresql.PgLexer.Token;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Reads scripts for PostgreSQL (its documentation, SQL Commands) without a server. */
public final class PgReading implements OwnReading {
    /** What PL/pgSQL declares for a trigger function (43.10.1), with its type. */
    private static final List<List<String>> OF_TRIGGERS =
            List.of(
                    List.of("tg_name", "name"),
                    List.of("tg_when", "text"),
                    List.of("tg_level", "text"),
                    List.of("tg_op", "text"),
                    List.of("tg_relid", "oid"),
                    List.of("tg_table_name", "name"),
                    List.of("tg_table_schema", "name"),
                    List.of("tg_nargs", "integer"),
                    List.of("tg_argv", "text[]"));

    @Override
    public OwnText read(Source source) throws NativeSyntaxException {
        List<OwnText.Unit> units = new ArrayList<>();
        List<OwnText.Table> tables = new ArrayList<>();
        List<Token> all = new ArrayList<>();
        for (PgScript.Statement statement : PgScript.of(source)) {
            Optional<PgRoutine> routine = PgRoutine.of(statement);
            if (routine.isPresent()) {
                units.add(routine(statement, routine.get(), all));
                continue;
            }
            all.addAll(statement.tokens());
            if (statement.begins("do")) {
                continue;
            }
            trigger(statement).ifPresent(units::add);
            new OwnHeads(source, statement.tokens()).table().ifPresent(tables::add);
        }
        return new OwnText(source, units, tables, all);
    }

    private static OwnText.Unit routine(
            PgScript.Statement statement, PgRoutine routine, List<Token> all) {
        Source source = statement.span().source();
        List<Token> tokens = statement.tokens();
        int open = 0;
        while (open < tokens.size() && !tokens.get(open).is("(")) {
            open++;
        }
        OwnHeads heads = new OwnHeads(source, tokens);
        List<OwnText.Parameter> parameters = new ArrayList<>(heads.parameters(open, "IN"));
        int behind = heads.behind(open);
        int headEnd = behind;
        if (behind + 1 < tokens.size() && tokens.get(behind).is("returns")) {
            headEnd++;
            if (tokens.get(headEnd).is("table") && headEnd + 1 < tokens.size()) {
                parameters.addAll(heads.parameters(headEnd + 1, "OUT"));
                headEnd = heads.behind(headEnd + 1);
            } else {
                while (headEnd < tokens.size()
                        && !Set.of(
                                        "language",
                                        "as",
                                        "immutable",
                                        "stable",
                                        "volatile",
                                        "strict",
                                        "called",
                                        "security",
                                        "parallel",
                                        "cost",
                                        "rows",
                                        "set",
                                        "leakproof",
                                        "not",
                                        "window",
                                        "support",
                                        "begin",
                                        "return",
                                        "transform",
                                        "external")
                                .contains(tokens.get(headEnd).text())) {
                    headEnd++;
                }
            }
        }
        String head =
                source.written()
                        .substring(tokens.get(open).start(), tokens.get(headEnd - 1).end())
                        .replaceAll("\\s+", " ");
        Optional<NativeStatement> block = Optional.empty();
        Optional<NativeSyntaxException> unread = Optional.empty();
        boolean plpgsql = routine.language().equals("plpgsql");
        if (plpgsql && routine.body().isPresent()) {
            try {
                block = Optional.of(PlParser.parse(routine.body().get(), routine.doubled()));
            } catch (NativeSyntaxException e) {
                unread = Optional.of(e);
            }
        }
        boolean read = plpgsql || routine.language().equals("sql");
        for (Token token : tokens) {
            boolean isBody =
                    routine.body().isPresent()
                            && token.start() < routine.body().get().start()
                            && token.end() >= routine.body().get().end();
            if (isBody && read) {
                Span body = routine.body().get();
                all.addAll(tokens(source, body.start(), body.end(), routine.doubled()));
            } else {
                all.add(token);
            }
        }
        return new OwnText.Unit(
                routine.function() ? OwnText.Kind.FUNCTION : OwnText.Kind.PROCEDURE,
                routine.name(),
                Optional.empty(),
                statement.span(),
                routine.nameSpan(),
                parameters,
                head,
                Optional.empty(),
                Optional.empty(),
                routine.body(),
                block,
                unread);
    }

    private static Optional<OwnText.Unit> trigger(PgScript.Statement statement) {
        List<Token> tokens = statement.tokens();
        int at = statement.trigger();
        if (at < 0) {
            return Optional.empty();
        }
        Token name = tokens.get(at + 1);
        String table = "";
        String calls = "";
        int head = at + 2;
        for (int i = at + 2; i + 1 < tokens.size(); i++) {
            if (table.isEmpty() && tokens.get(i).is("on")) {
                table = last(tokens, i + 1);
                head = i + 2;
            } else if (tokens.get(i).is("execute") && i + 2 < tokens.size()) {
                calls = last(tokens, i + 2);
            }
        }
        Source source = statement.span().source();
        return Optional.of(
                new OwnText.Unit(
                        OwnText.Kind.TRIGGER,
                        name.text(),
                        Optional.empty(),
                        statement.span(),
                        source.span(name.start(), name.end()),
                        List.of(),
                        source.written()
                                .substring(
                                        name.end(),
                                        Math.max(
                                                name.end(),
                                                tokens.get(Math.min(head, tokens.size()) - 1)
                                                        .end()))
                                .strip()
                                .replaceAll("\\s+", " "),
                        Optional.of(table).filter(t -> !t.isEmpty()),
                        Optional.of(calls).filter(c -> !c.isEmpty()),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty()));
    }

    /** The last part of a name that may have a schema. */
    private static String last(List<Token> tokens, int from) {
        int i = from;
        while (i + 2 < tokens.size() && tokens.get(i + 1).is(".")) {
            i += 2;
        }
        return i < tokens.size() ? tokens.get(i).text() : "";
    }

    @Override
    public List<? extends NativeToken> tokens(Source source, int from, int to) {
        return tokens(source, from, to, false);
    }

    private static List<Token> tokens(Source source, int from, int to, boolean doubled) {
        try {
            return PgLexer.read(source, from, to, doubled);
        } catch (NativeSyntaxException e) {
            int stop = e.span().start();
            if (stop < from || stop >= to) {
                return List.of();
            }
            List<Token> before = new ArrayList<>(tokens(source, from, stop, doubled));
            // What is typed in a body may have no end yet.
            int tag = source.written().indexOf('$', stop + 1);
            boolean body = source.written().charAt(stop) == '$' && tag >= 0 && tag < to;
            if (body) {
                before.addAll(tokens(source, tag + 1, to, doubled));
            }
            return before;
        }
    }

    @Override
    public List<NativeVariable> special(OwnText.Unit unit) {
        List<NativeVariable> all = new ArrayList<>();
        if (unit.block().isPresent() || unit.unread().isPresent()) {
            all.add(variable(unit, "found", "boolean", NativeVariable.Kind.SPECIAL));
            if (unit.head().toLowerCase(java.util.Locale.ROOT).endsWith("trigger")) {
                all.add(variable(unit, "new", "record", NativeVariable.Kind.ROW));
                all.add(variable(unit, "old", "record", NativeVariable.Kind.ROW));
                OF_TRIGGERS.forEach(
                        t ->
                                all.add(
                                        variable(
                                                unit,
                                                t.get(0),
                                                t.get(1),
                                                NativeVariable.Kind.SPECIAL)));
            }
        }
        return all;
    }

    private static NativeVariable variable(
            OwnText.Unit unit, String name, String type, NativeVariable.Kind kind) {
        return new NativeVariable(name, type, kind, unit.at());
    }

    @Override
    public List<String> statements() {
        return List.of(
                "BEGIN",
                "CALL",
                "CASE",
                "CLOSE",
                "COMMIT",
                "CONTINUE",
                "DECLARE",
                "DELETE FROM",
                "ELSE",
                "ELSIF",
                "END",
                "END IF;",
                "END LOOP;",
                "EXCEPTION WHEN",
                "EXECUTE",
                "EXIT",
                "FETCH",
                "FOR",
                "FOREACH",
                "GET DIAGNOSTICS",
                "IF",
                "INSERT INTO",
                "LOOP",
                "OPEN",
                "PERFORM",
                "RAISE EXCEPTION",
                "RAISE NOTICE",
                "RETURN",
                "RETURN NEXT",
                "RETURN QUERY",
                "ROLLBACK",
                "SELECT",
                "UPDATE",
                "WHILE",
                "WITH");
    }

    /** The documentation's appendix C, what is reserved there, and the words of PL/pgSQL. */
    @Override
    public Set<String> reserved() {
        return Set.of(
                "all",
                "and",
                "any",
                "array",
                "as",
                "asc",
                "begin",
                "between",
                "by",
                "call",
                "case",
                "cast",
                "check",
                "close",
                "commit",
                "constraint",
                "create",
                "cross",
                "declare",
                "default",
                "delete",
                "desc",
                "distinct",
                "do",
                "else",
                "elsif",
                "end",
                "except",
                "exception",
                "execute",
                "exists",
                "exit",
                "false",
                "fetch",
                "for",
                "foreach",
                "from",
                "full",
                "function",
                "get",
                "grant",
                "group",
                "having",
                "if",
                "ilike",
                "in",
                "inner",
                "insert",
                "intersect",
                "into",
                "is",
                "join",
                "language",
                "lateral",
                "left",
                "like",
                "limit",
                "loop",
                "natural",
                "next",
                "not",
                "null",
                "offset",
                "on",
                "only",
                "open",
                "or",
                "order",
                "outer",
                "perform",
                "primary",
                "procedure",
                "query",
                "raise",
                "references",
                "return",
                "returning",
                "returns",
                "right",
                "rollback",
                "select",
                "set",
                "table",
                "then",
                "to",
                "trigger",
                "true",
                "union",
                "unique",
                "update",
                "using",
                "values",
                "when",
                "where",
                "while",
                "with");
    }

    /** The documentation's 43.11.1: by default it is an error. */
    @Override
    public boolean variablesWin() {
        return false;
    }

    @Override
    public boolean declaresOnce() {
        return true;
    }

    @Override
    public List<String> types() {
        return List.of(
                "bigint",
                "boolean",
                "bytea",
                "char",
                "date",
                "double precision",
                "integer",
                "interval",
                "json",
                "jsonb",
                "numeric",
                "real",
                "record",
                "refcursor",
                "smallint",
                "text",
                "time",
                "timestamp",
                "timestamptz",
                "uuid",
                "varchar");
    }
}
