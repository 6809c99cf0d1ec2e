package dev.cantina.syntax;

import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;

/** Declarations at the head of a block (ISO 9075-4, 14.1 to 14.4). */
final class DeclarationParser {
    private static final Pattern SQLSTATE = Pattern.compile("[0-9A-Za-z]{5}");

    private final TokenReader reader;
    private final TypeParser types;
    private final ExpressionParser expressions;
    private final SqlReader sql;
    private final StatementParser statements;

    DeclarationParser(
            TokenReader reader,
            TypeParser types,
            ExpressionParser expressions,
            SqlReader sql,
            StatementParser statements) {
        this.reader = reader;
        this.types = types;
        this.expressions = expressions;
        this.sql = sql;
        this.statements = statements;
    }

    /** {@code DECLARE handler | cursor | condition | variables}, without its {@code ;}. */
    Declaration declaration() {
        Token first = reader.take();
        if (reader.seesAny("CONTINUE", "EXIT", "UNDO") && reader.peek(1).is("HANDLER")) {
            return handler(first);
        }
        if (reader.sees("LOCAL", "TEMPORARY") || reader.sees("TEMPORARY", "TABLE")) {
            return temporaryTable(first);
        }
        Name name = reader.name("a variable");
        if (reader.accept("CONDITION")) {
            Optional<String> state =
                    reader.accept("FOR") ? Optional.of(sqlstate()) : Optional.empty();
            return new Declaration.Condition(reader.since(first), name, state);
        }
        if (reader.seesAny("CURSOR", "SCROLL", "INSENSITIVE", "SENSITIVE", "ASENSITIVE")
                || reader.sees("NO", "SCROLL")) {
            return cursor(first, name);
        }
        return variables(first, name);
    }

    /** ISO 9075-2, 14.16. */
    private Declaration temporaryTable(Token first) {
        reader.expect("LOCAL", "after DECLARE");
        reader.expect("TEMPORARY", "after LOCAL");
        reader.expect("TABLE", "after TEMPORARY");
        if (reader.sees("MODULE") && reader.peek(1).is(".")) {
            reader.take();
            reader.take();
        }
        Name name = reader.name("a table");
        Token open = reader.expect("(", "before the columns of " + name);
        int depth = 1;
        while (depth > 0 && !reader.atEnd() && !reader.sees(";")) {
            Token token = reader.take();
            depth += token.is("(") ? 1 : token.is(")") ? -1 : 0;
        }
        if (depth > 0) {
            throw reader.expected("')'", "after the columns of " + name);
        }
        Span definition = reader.since(open);
        boolean preserve = false;
        if (reader.accept("ON", "COMMIT")) {
            preserve = reader.sees("PRESERVE");
            if (!preserve && !reader.sees("DELETE")) {
                throw reader.expected("PRESERVE ROWS or DELETE ROWS", "after ON COMMIT");
            }
            reader.take();
            reader.expect("ROWS", "after ON COMMIT " + (preserve ? "PRESERVE" : "DELETE"));
        }
        return new Declaration.TemporaryTable(reader.since(first), name, definition, preserve);
    }

    private Declaration variables(Token first, Name name) {
        List<Name> names = new ArrayList<>();
        names.add(name);
        while (reader.accept(",")) {
            names.add(reader.name("a variable"));
        }
        boolean constant = reader.accept("CONSTANT");
        TypeSyntax type = types.type();
        Optional<Expression> initial =
                reader.accept("DEFAULT") ? Optional.of(expressions.expression()) : Optional.empty();
        return new Declaration.Variables(reader.since(first), names, constant, type, initial);
    }

    private Declaration cursor(Token first, Name name) {
        boolean scroll = false;
        while (!reader.sees("CURSOR")) {
            if (reader.accept("NO")) {
                reader.expect("SCROLL", "after NO");
            } else if (reader.accept("SCROLL")) {
                scroll = true;
            } else if (reader.seesAny("INSENSITIVE", "SENSITIVE", "ASENSITIVE")) {
                reader.take();
            } else {
                throw reader.expected("CURSOR", "");
            }
        }
        reader.take();
        boolean returned = false;
        boolean held = false;
        while (reader.seesAny("WITH", "WITHOUT")) {
            boolean with = reader.take().is("WITH");
            if (reader.accept("RETURN")) {
                returned = with;
            } else {
                reader.expect("HOLD", "after WITH");
                held = with;
            }
        }
        reader.expect("FOR", "in the declaration of a cursor");
        boolean named = TokenReader.isName(reader.peek()) && reader.peek(1).is(";");
        Optional<Name> statement =
                named ? Optional.of(reader.name("a prepared statement")) : Optional.empty();
        Optional<SqlText> query = named ? Optional.empty() : Optional.of(sql.query(";"));
        return new Declaration.Cursor(
                reader.since(first), name, scroll, held, returned, query, statement);
    }

    private Declaration handler(Token first) {
        HandlerAction action = HandlerAction.valueOf(reader.take().text());
        reader.expect("HANDLER", "");
        reader.expect("FOR", "after HANDLER");
        List<Declaration.HandledCondition> conditions = new ArrayList<>();
        do {
            conditions.add(handledCondition());
        } while (reader.accept(","));
        Statement body = statements.statement();
        return new Declaration.Handler(reader.since(first), action, conditions, body);
    }

    private Declaration.HandledCondition handledCondition() {
        Token first = reader.peek();
        HandledKind kind;
        String text = "";
        if (reader.sees("SQLSTATE")) {
            kind = HandledKind.SQLSTATE;
            text = sqlstate();
        } else if (reader.accept("SQLEXCEPTION")) {
            kind = HandledKind.SQLEXCEPTION;
        } else if (reader.accept("SQLWARNING")) {
            kind = HandledKind.SQLWARNING;
        } else if (reader.accept("NOT", "FOUND")) {
            kind = HandledKind.NOT_FOUND;
        } else {
            kind = HandledKind.NAMED;
            text = reader.name("a condition").text();
        }
        return new Declaration.HandledCondition(reader.since(first), kind, text);
    }

    /** {@code SQLSTATE [VALUE] 'xxxxx'}: five digits and capital letters (ISO 9075-2, 24.1). */
    String sqlstate() {
        reader.expect("SQLSTATE", "");
        reader.accept("VALUE");
        Token token = reader.peek();
        if (token.kind() != Token.Kind.TEXT) {
            throw reader.expected("an SQLSTATE in quotes", "");
        }
        reader.take();
        String state = token.text();
        if (!SQLSTATE.matcher(state).matches()) {
            throw reader.failure(
                    token,
                    "an SQLSTATE has five digits or letters, and '" + state + "' has not",
                    "use '45000' for a condition of your own");
        }
        return state.toUpperCase(Locale.ROOT);
    }
}
