package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.facts.RaiseFacts;
import dev.cantina.syntax.RangeLoop;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.Statement;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.Layout;
import dev.cantina.translate.Marks;
import dev.cantina.translate.UnsupportedConstructException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The loops that MariaDB means otherwise, or has not got. */
final class MariaLoops {
    private final MariaBlocks blocks;
    private final MariaBody body;
    private final MariaExpressions words;
    private final Effects effects;
    private int ranges;

    /**
     * @param blocks for the statements in them
     */
    MariaLoops(MariaBlocks blocks, MariaBody body, MariaExpressions words, Effects effects) {
        this.blocks = blocks;
        this.body = body;
        this.words = words;
        this.effects = effects;
    }

    /** A loop over the rows of a query. */
    void each(BoundStatement.For loop, Handlers around) {
        Statement.For tree = (Statement.For) body.written(loop);
        if (loop.cursor().positioning().query().isPresent()) {
            throw new UnsupportedConstructException(
                    tree.span(), "MariaDB has no changes WHERE CURRENT OF a cursor");
        }
        if (!RaiseFacts.canRaise(loop.cursor().query().orElseThrow(), words.catalog()).isNo()
                && around.exceptions(effects.raisesItself(loop)).stream()
                        .anyMatch(a -> !a.isExit())) {
            throw new UnsupportedConstructException(
                    tree.query().span(),
                    "where this query fails, a CONTINUE handler would go on inside the loop");
        }
        blocks.fillEmpty(tree);
        Span query = tree.query().span();
        Span head = new Span(query.source(), tree.row().span().start(), query.start());
        body.edits().put(head, words.name(loop.row()) + " IN (");
        body.edits().put(query, words.of(loop.cursor().query().orElseThrow()) + ")");
        blocks.list(loop.statements(), around);
    }

    /**
     * Where its places are marked each test of a WHILE is one of its own: it becomes a LOOP that
     * begins with it.
     */
    void turns(BoundStatement.While loop) {
        if (!body.marks().isOn()) {
            return;
        }
        Statement tree = body.written(loop);
        String mark = body.marks().at(loop.at()).orElseThrow();
        if (!(tree instanceof Statement.While written)) {
            if (loop.statements().isEmpty()) {
                body.mark(tree.span(), List.of(mark));
            }
            return;
        }
        Span whole = tree.span();
        SqlWords words = SqlWords.of(whole.text());
        int first = MariaBlocks.first(words);
        int condition = written.condition().span().start() - whole.start();
        int behind = written.condition().span().end() - whole.start();
        SqlWords.Word begin = words.all().get(first);
        SqlWords.Word todo =
                words.all().stream()
                        .filter(w -> w.start() >= behind && w.is("DO"))
                        .findFirst()
                        .orElseThrow();
        boolean labelled = written.label().isPresent();
        String label =
                labelled
                        ? this.words.names().beginning(written.label().get())
                        : body.own("turns" + ++ranges);
        body.edits()
                .put(
                        MariaBlocks.part(whole, begin.start(), condition),
                        (labelled ? "" : label + ": ") + "LOOP " + mark + " IF (");
        body.edits()
                .put(
                        MariaBlocks.part(whole, behind, todo.end()),
                        ") IS NOT TRUE THEN LEAVE " + label + "; END IF;");
        for (int i = words.all().size() - 1; i > 0; i--) {
            if (words.sees(i - 1, "END", "WHILE")) {
                SqlWords.Word last = words.all().get(i);
                body.edits().put(MariaBlocks.part(whole, last.start(), last.end()), "LOOP");
                break;
            }
        }
    }

    /** A loop over a range of numbers: the server's own counts in INTEGER, and takes NULL for 0. */
    void range(BoundStatement.Block block, Handlers around) {
        Span whole = body.span(block.at());
        BoundStatement.If tested = (BoundStatement.If) block.statements().get(0);
        BoundStatement.While loop = (BoundStatement.While) tested.otherwise().orElseThrow().get(0);
        Span head = body.span(tested.at());
        blocks.target(loop);
        List<BoundStatement.Assignment> initial =
                block.initial().stream()
                        .map(s -> ((BoundStatement.Assign) s).assignments().get(0))
                        .toList();
        String next = words.name(initial.get(0).target().variable());
        String last = words.name(initial.get(1).target().variable());
        String counter = words.name(initial.get(2).target().variable());
        for (BoundStatement.Assignment bound : initial) {
            if (around.exceptions(effects.raises(bound.value())).stream()
                    .anyMatch(a -> !a.isExit())) {
                throw new UnsupportedConstructException(
                        head,
                        "where a bound of this loop fails, a CONTINUE handler would go on inside");
            }
        }
        boolean named = !loop.target().label().startsWith("cantina_");
        String label =
                named
                        ? words.names().beginning(loop.target().label())
                        : body.own("turns" + ++ranges);
        BoundStatement.Branch over =
                ((BoundStatement.If) loop.statements().get(1)).branches().get(0);
        BoundStatement.Assign step = (BoundStatement.Assign) loop.statements().get(0);
        String indent = body.indent(whole);
        Marks marks = body.marks();
        int counts = loop.statements().get(2).at();
        String text =
                "BEGIN\n"
                        + "  DECLARE "
                        + next
                        + " BIGINT DEFAULT "
                        + words.of(initial.get(0).value())
                        + ";\n  DECLARE "
                        + last
                        + " BIGINT DEFAULT "
                        + words.of(initial.get(1).value())
                        + ";\n  DECLARE "
                        + counter
                        + " BIGINT;\n  "
                        + String.join("", marks.done(block))
                        + marks.at(tested.at()).orElse("")
                        + "IF "
                        + words.of(tested.branches().get(0).condition())
                        + " THEN\n    "
                        + marks.at(tested.branches().get(0).statements().get(0).at()).orElse("")
                        + "SIGNAL SQLSTATE '22004' SET MESSAGE_TEXT = '"
                        + RangeLoop.NO_BOUND
                        + "';\n  END IF;\n"
                        + label
                        + ": LOOP\n  "
                        + marks.at(step.at()).orElse("")
                        + "SET "
                        + next
                        + " = "
                        + words.of(step.assignments().get(0).value())
                        + ";\n  "
                        + marks.at(loop.statements().get(1).at()).orElse("")
                        + "IF ("
                        + words.of(over.condition())
                        + ") IS NOT FALSE THEN\n    "
                        + marks.at(over.statements().get(0).at()).orElse("")
                        + "LEAVE "
                        + label
                        + ";\n  END IF;\n  "
                        + marks.at(counts).orElse("")
                        + "SET "
                        + counter
                        + " = "
                        + next
                        + ";";
        body.edits().put(head, Layout.shifted(text, indent));
        blocks.list(loop.statements().subList(3, loop.statements().size()), around);
        SqlWords all = SqlWords.of(whole.text());
        int count = all.all().size();
        int end = all.sees(count - 2, "END", "FOR") ? count - 2 : count - 3;
        body.edits()
                .put(
                        MariaBlocks.part(whole, all.all().get(end).start(), whole.text().length()),
                        Layout.shifted("END LOOP;\nEND", indent));
    }

    private void untilMarked(BoundStatement.Repeat loop, String mark) {
        Statement.Repeat tree = (Statement.Repeat) body.written(loop);
        Span whole = tree.span();
        int until =
                whole.source()
                        .text()
                        .toUpperCase(Locale.ROOT)
                        .lastIndexOf("UNTIL", tree.condition().span().start());
        body.edits().put(new Span(whole.source(), until, until), mark + " ");
    }

    /** ITERATE in a REPEAT would pass by its test there: its round becomes a block of its own. */
    void repeat(BoundStatement.Repeat loop, Handlers around) {
        boolean[] iterates = {false};
        Walker.statements(
                loop,
                s ->
                        iterates[0] |=
                                s instanceof BoundStatement.Iterate i
                                        && i.target() == loop.target());
        words.edit(loop.condition(), body.edits());
        blocks.fillEmpty(body.written(loop));
        Optional<String> mark = body.marks().at(loop.conditionAt());
        if (!iterates[0]) {
            mark.ifPresent(m -> untilMarked(loop, m));
        }
        if (iterates[0]) {
            Statement.Repeat tree = (Statement.Repeat) body.written(loop);
            String label = words.names().beginning(tree.label().orElseThrow());
            String round = words.names().of(tree.label().orElseThrow().text() + "_round");
            blocks.inRounds(loop.target(), round);
            SqlWords written = SqlWords.of(tree.span().text());
            SqlWords.Word word = written.all().get(MariaBlocks.first(written));
            body.edits()
                    .put(
                            MariaBlocks.part(tree.span(), word.start(), word.end()),
                            "LOOP " + round + ": BEGIN");
            int condition = tree.condition().span().start();
            int until =
                    tree.span()
                            .source()
                            .text()
                            .toUpperCase(Locale.ROOT)
                            .lastIndexOf("UNTIL", condition);
            Span source = tree.span();
            body.edits()
                    .put(
                            new Span(source.source(), until, condition),
                            "END " + round + "; " + mark.map(m -> m + " ").orElse("") + "IF ");
            int end = tree.condition().span().end();
            body.edits()
                    .put(
                            new Span(source.source(), end, source.end()),
                            " THEN LEAVE "
                                    + label
                                    + "; END IF;\n"
                                    + body.indent(source)
                                    + "END LOOP");
        }
        blocks.list(loop.statements(), around);
    }
}
