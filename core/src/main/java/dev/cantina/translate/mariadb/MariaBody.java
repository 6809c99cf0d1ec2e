package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Declaration;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.TextEdits;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.Layout;
import dev.cantina.translate.LongNames;
import dev.cantina.translate.Marks;
import dev.cantina.translate.UnsupportedConstructException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * A routine's body in MariaDB's words. Its language is the standard's own, so the author's text
 * stays, and only what the server means otherwise is said in other words, or gets a few words of
 * its own around it.
 */
final class MariaBody {
    /** What fails, or is not found, leaves the block and goes to whoever handles it outside. */
    static final String PASS_ON = "DECLARE EXIT HANDLER FOR %s RESIGNAL";

    static final String SKIP = "DECLARE CONTINUE HANDLER FOR %s BEGIN END";
    private static final String STEP = "  ";

    private final BoundRoutine routine;
    private final Statement body;
    private final MariaExpressions words;
    private final Effects effects;
    private final TextEdits edits;
    private final Map<Span, Statement> written = new HashMap<>();
    private final MariaStatements statements;
    private final MariaBlocks blocks;
    private final boolean asksRows;
    private final boolean inside;
    private final Marks marks;
    private boolean left;
    private boolean leftByHandler;

    /**
     * @param inside whether it runs inside a statement: a function's or trigger's body, or that of
     *     a procedure that one of those calls
     * @param run what marks its places; empty for what is to stay
     * @param setsRows whether it may set the new row of a trigger
     */
    MariaBody(
            BoundRoutine routine,
            Statement body,
            MariaExpressions words,
            Effects effects,
            boolean inside,
            Optional<String> run,
            boolean setsRows) {
        this.marks =
                new Marks(
                        routine,
                        run,
                        words::said,
                        (row, field) -> words.said(row) + "." + words.names().of(field.name()),
                        setsRows);
        this.inside = inside;
        this.routine = routine;
        this.body = body;
        this.words = words;
        this.effects = effects;
        this.edits = new TextEdits(body.span());
        index(body);
        statements = new MariaStatements(this, words, effects);
        blocks = new MariaBlocks(this, words, effects);
        boolean[] asked = {false};
        Walker.statements(
                routine.body(),
                s ->
                        asked[0] |=
                                s instanceof BoundStatement.GetDiagnostics get
                                        && get.items().stream()
                                                .anyMatch(i -> i.item().equals("ROW_COUNT")));
        asksRows = asked[0];
    }

    private void index(Statement s) {
        written.put(s.span(), s);
        if (s instanceof Statement.Compound block) {
            for (Declaration declaration : block.declarations()) {
                if (declaration instanceof Declaration.Handler handler) {
                    index(handler.body());
                }
            }
            block.statements().forEach(this::index);
        } else if (s instanceof Statement.If choice) {
            choice.branches().forEach(b -> b.statements().forEach(this::index));
            choice.otherwise().ifPresent(o -> o.forEach(this::index));
        } else if (s instanceof Statement.Case choice) {
            choice.branches().forEach(b -> b.statements().forEach(this::index));
            choice.otherwise().ifPresent(o -> o.forEach(this::index));
        } else if (s instanceof Statement.While loop) {
            loop.statements().forEach(this::index);
        } else if (s instanceof Statement.Repeat loop) {
            loop.statements().forEach(this::index);
        } else if (s instanceof Statement.Loop loop) {
            loop.statements().forEach(this::index);
        } else if (s instanceof Statement.For loop) {
            loop.statements().forEach(this::index);
        }
    }

    BoundRoutine routine() {
        return routine;
    }

    /** What marks the places of a copy that stands for one run. */
    Marks marks() {
        return marks;
    }

    /** Puts marks before a stretch. */
    void mark(Span span, List<String> texts) {
        if (!texts.isEmpty()) {
            edits.around(span, String.join("", texts) + " ", "");
        }
    }

    /** The mark of what the routine gives, which stands before its body. */
    String given() {
        return marks.end(-1).map(m -> m + " ").orElse("");
    }

    TextEdits edits() {
        return edits;
    }

    MariaStatements statements() {
        return statements;
    }

    MariaBlocks blocks() {
        return blocks;
    }

    boolean isProcedure() {
        return routine.kind() == BoundRoutine.Kind.PROCEDURE;
    }

    /** Whether it is a procedure outside all statements, which may end transactions. */
    boolean isOutside() {
        return !inside;
    }

    Span span(int at) {
        return routine.places().get(at).span();
    }

    /** A statement as its author wrote it. */
    Statement written(BoundStatement s) {
        Statement found = written.get(span(s.at()));
        if (found == null) {
            throw new UnsupportedConstructException(
                    span(s.at()), "this statement has no counterpart on MariaDB");
        }
        return found;
    }

    /** Whether what a change came to is asked for anywhere. */
    boolean asksRows() {
        return asksRows;
    }

    /** A name of the routine's own for something the server knows by name in the whole session. */
    String own(String what) {
        String name = routine.name().toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9_]", "_");
        return "cantina_" + name + "_" + what;
    }

    /** RETURN in a procedure: leaves the block around everything. */
    String leave(boolean inHandler) {
        left = true;
        leftByHandler |= inHandler;
        return "LEAVE " + label();
    }

    private String label() {
        if (body instanceof Statement.Compound block
                && block.label().isPresent()
                && !leftByHandler) {
            return words.names().beginning(block.label().get());
        }
        return "whole";
    }

    /** The body, with the indentation that it had. */
    String text() {
        effects.requireDeclaredAccess(routine, "MariaDB");
        LongNames.onMaria(routine);
        blocks.visit(routine.body(), Handlers.NONE, false);
        String text = edits.text();
        String indent = indent(body.span());
        if (left) {
            boolean labelled =
                    body instanceof Statement.Compound block && block.label().isPresent();
            if (leftByHandler || !(body instanceof Statement.Compound)) {
                text = around("whole: BEGIN", text, "END whole", indent);
            } else if (!labelled) {
                text = "whole: " + text;
            }
        }
        if (isOutside() && MariaInside.begins(routine, effects)) {
            return inTransaction(text, indent);
        }
        List<String> declared = new ArrayList<>(blocks.atomics().declarations());
        if (asksRows) {
            declared.add("DECLARE cantina_rows integer DEFAULT 0");
        }
        if (declared.isEmpty()) {
            return text;
        }
        declared.add(text);
        return block(declared, indent);
    }

    /** A call is all or nothing, whether its caller has begun a transaction or not. */
    private String inTransaction(String text, String indent) {
        boolean begins = statements.reachesStart();
        List<String> all = new ArrayList<>();
        all.add("DECLARE cantina_own boolean DEFAULT @@autocommit AND NOT @@in_transaction");
        if (asksRows) {
            all.add("DECLARE cantina_rows integer DEFAULT 0");
        }
        all.addAll(blocks.atomics().declarations());
        List<String> left = blocks.atomics().leaving(routine.body());
        all.add(
                Layout.shifted(
                        "DECLARE EXIT HANDLER FOR SQLEXCEPTION\nBEGIN\n"
                                + (left.isEmpty() ? "" : "  " + left.get(0) + ";\n")
                                + "  IF cantina_own THEN ROLLBACK; END IF;\n  RESIGNAL;\nEND",
                        indent));
        all.add(
                begins
                        ? "IF cantina_own THEN START TRANSACTION; SET @cantina_clean = TRUE; END IF"
                        : "IF cantina_own THEN START TRANSACTION; END IF");
        all.add(text);
        all.add(
                begins
                        ? "IF cantina_own THEN COMMIT; SET @cantina_clean = NULL; END IF"
                        : "IF cantina_own THEN COMMIT; END IF");
        return block(all, indent);
    }

    /**
     * A block of statements, each with the indentation that it would have in place of the block.
     */
    static String block(List<String> statements, String indent) {
        StringBuilder block = new StringBuilder("BEGIN\n");
        for (String statement : statements) {
            block.append(indent).append(STEP).append(shifted(statement)).append(";\n");
        }
        return block.append(indent).append("END").toString();
    }

    /**
     * A statement whose condition nobody here handles, and which nobody outside must see.
     *
     * @param condition a word for a class of them, such as NOT FOUND
     */
    String skipping(String condition, String statement, Span span) {
        return block(List.of(SKIP.formatted(condition), statement), indent(span));
    }

    /** A text one step further in, but for what is inside a literal. */
    static String shifted(String text) {
        return Layout.shifted(text, STEP);
    }

    private static String around(String head, String text, String foot, String indent) {
        return head + "\n" + indent + STEP + shifted(text) + ";\n" + indent + foot;
    }

    /** The blanks before a stretch on its line. */
    String indent(Span span) {
        String source = span.source().text();
        int line = source.lastIndexOf('\n', span.start() - 1) + 1;
        int end = line;
        while (end < span.start() && source.charAt(end) == ' ') {
            end++;
        }
        return source.substring(line, end);
    }

    /**
     * Puts statements before and after one that stays where it is.
     *
     * @param listed whether it stands in a list of statements
     */
    void surround(Span span, List<String> before, List<String> after, boolean listed) {
        if (before.isEmpty() && after.isEmpty()) {
            return;
        }
        String indent = indent(span) + (listed ? "" : STEP);
        StringBuilder head = new StringBuilder(listed ? "" : "BEGIN\n" + indent);
        before.forEach(s -> head.append(Layout.shifted(s, indent)).append(";\n").append(indent));
        StringBuilder foot = new StringBuilder();
        after.forEach(s -> foot.append(";\n").append(indent).append(Layout.shifted(s, indent)));
        if (!listed) {
            foot.append(";\n").append(indent(span)).append("END");
        }
        edits.around(span, head.toString(), foot.toString());
    }
}
