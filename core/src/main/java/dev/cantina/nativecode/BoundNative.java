package dev.cantina.nativecode;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.JumpTarget;
import dev.cantina.binding.Scope;
import dev.cantina.binding.Variable;
import dev.cantina.nativecode.NativeStatement.Part;
import dev.cantina.nativecode.NativeStatement.Role;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit.SqlAccess;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * A routine in a server's own language as those see it who watch runs: its places, what is declared
 * at each, and how its statements lie in each other. What they do is the server's business, and
 * nothing of this is compiled.
 */
public final class BoundNative {
    /** A variable as it is declared, by the name that probes tell it by. */
    public record Told(String key, Variable variable, NativeVariable declared) {}

    /** How many letters of a type are shown. */
    private static final int TYPE_LENGTH = 40;

    private final Function<String, String> keys;
    private final Function<NativeVariable, SqlType> types;
    private final List<Variable> variables = new ArrayList<>();
    private final List<BoundRoutine.Place> places = new ArrayList<>();
    private final List<Map<String, Told>> told = new ArrayList<>();
    private final List<Boolean> handles = new ArrayList<>();
    private int handlers;
    private BoundRoutine routine;
    private Map<String, Told> given = Map.of();

    /**
     * @param keys the name that probes tell a variable by, of the one that is written
     * @param types the type to hold it as
     */
    public BoundNative(Function<String, String> keys, Function<NativeVariable, SqlType> types) {
        this.keys = keys;
        this.types = types;
    }

    /**
     * Puts a routine together.
     *
     * @param name as it is shown
     * @param outside its parameters, and what its language declares for it
     */
    public BoundNative of(
            BoundRoutine.Kind kind,
            String name,
            Span span,
            NativeStatement block,
            List<NativeVariable> outside,
            Function<NativeVariable, Variable.Kind> kindOf,
            Optional<SqlType> returns) {
        Map<String, Told> scope = new LinkedHashMap<>();
        Scope seen = Scope.EMPTY;
        List<Variable> parameters = new ArrayList<>();
        for (NativeVariable one : outside) {
            Told declared = declare(one, kindOf.apply(one));
            scope.put(declared.key, declared);
            seen = seen.with(name(declared), declared.variable);
            if (declared.variable.kind().isParameter()) {
                parameters.add(declared.variable);
            }
        }
        given = new LinkedHashMap<>(scope);
        BoundStatement body = statement(block, scope, seen, false);
        routine =
                new BoundRoutine(
                        kind,
                        name,
                        name.toUpperCase(java.util.Locale.ROOT),
                        span,
                        parameters,
                        returns,
                        variables,
                        0,
                        Optional.empty(),
                        body,
                        places,
                        false,
                        Optional.empty(),
                        Optional.empty(),
                        SqlAccess.MODIFIES_SQL_DATA);
        return this;
    }

    public BoundRoutine routine() {
        return routine;
    }

    /** What is told at the end: its parameters, or a trigger's rows. */
    public Map<String, Told> toldAtTheEnd() {
        return given;
    }

    /** What is told at a statement. */
    public Map<String, Told> told(int statement) {
        return told.get(statement);
    }

    /** Whether a statement is the first of what handles a condition. */
    public boolean beginsHandler(int statement) {
        return handles.get(statement);
    }

    private static Name name(Told told) {
        String text = told.key;
        boolean plain = text.equals(text.toLowerCase(java.util.Locale.ROOT));
        return new Name(text, !plain, told.variable.span());
    }

    private Told declare(NativeVariable one, Variable.Kind kind) {
        String key = keys.apply(one.name());
        Variable variable =
                new Variable(
                        variables.size(),
                        key,
                        types.apply(one),
                        kind,
                        one.span(),
                        Optional.of(brief(one.type())).filter(type -> !type.isEmpty()));
        variables.add(variable);
        return new Told(key, variable, one);
    }

    /** A type on one line, cut where it lists much. */
    private static String brief(String type) {
        String line = type.strip().replaceAll("\\s+", " ");
        boolean fits = line.codePointCount(0, line.length()) <= TYPE_LENGTH;
        return fits ? line : line.substring(0, line.offsetByCodePoints(0, TYPE_LENGTH - 1)) + "…";
    }

    private List<BoundStatement> list(
            List<NativeStatement> statements,
            Map<String, Told> scope,
            Scope seen,
            boolean handles) {
        List<BoundStatement> list = new ArrayList<>();
        for (NativeStatement s : statements) {
            list.add(statement(s, scope, seen, handles && list.isEmpty()));
        }
        return list;
    }

    private BoundStatement statement(
            NativeStatement s, Map<String, Told> outer, Scope outside, boolean handling) {
        if (s.at() >= 0) {
            // Numbers are given in the order of the text, which is that of this walk.
            while (places.size() <= s.at()) {
                places.add(null);
                told.add(Map.of());
                handles.add(false);
            }
            Span line = head(s);
            places.set(s.at(), new BoundRoutine.Place(line, outside, s.what(), false));
            told.set(s.at(), outer);
            handles.set(s.at(), handling);
        }
        Map<String, Told> scope = new LinkedHashMap<>(outer);
        Scope seen = outside;
        s.declared().stream()
                .map(NativeVariable::label)
                .filter(label -> !label.isEmpty())
                .findFirst()
                .ifPresent(label -> NativeVariable.hide(scope, keys.apply(label)));
        for (NativeVariable one : s.declared()) {
            Variable.Kind kind =
                    one.kind() == NativeVariable.Kind.CONSTANT
                            ? Variable.Kind.CONSTANT
                            : Variable.Kind.LOCAL;
            Told declared = declare(one, kind);
            NativeVariable.declare(
                    scope,
                    declared,
                    Told::declared,
                    t -> new Told(t.key, t.variable, t.declared.labelled()),
                    keys);
            seen = seen.with(name(declared), declared.variable);
        }
        return switch (s.kind()) {
            case BLOCK -> block(s, scope, seen, handling && s.at() < 0);
            case CHOICE -> choice(s, scope, seen);
            case LOOP ->
                    new BoundStatement.While(
                            s.at(),
                            new JumpTarget("", true),
                            s.what().equals("LOOP") ? Optional.empty() : Optional.of(nothing(s)),
                            list(s.parts().get(0).statements(), scope, seen, false));
            case SIMPLE -> new BoundStatement.Report(s.at(), List.of());
        };
    }

    /** What stands for a statement: of one with others inside, what stands before them. */
    private static Span head(NativeStatement s) {
        if (s.kind() == NativeStatement.Kind.SIMPLE || s.parts().isEmpty()) {
            return s.span();
        }
        Span first = s.parts().get(0).head();
        return s.span().source().span(s.span().start(), Math.max(first.end(), s.span().start()));
    }

    private static BoundExpression nothing(NativeStatement s) {
        return new BoundExpression.Constant(s.span(), null, SqlType.BOOLEAN);
    }

    private BoundStatement block(
            NativeStatement s, Map<String, Told> scope, Scope seen, boolean handling) {
        List<BoundStatement> body = List.of();
        List<BoundStatement.Handler> all = new ArrayList<>();
        for (Part part : s.parts()) {
            if (part.role() != Role.HANDLER) {
                body = list(part.statements(), scope, seen, handling);
                continue;
            }
            Map<String, Told> inside = new LinkedHashMap<>(scope);
            Scope within = seen;
            for (String name : List.of("sqlstate", "sqlerrm")) {
                Told one =
                        declare(
                                new NativeVariable(
                                        name, "text", NativeVariable.Kind.SPECIAL, part.head()),
                                Variable.Kind.CONSTANT);
                inside.put(name, one);
                within = within.with(name(one), one.variable());
            }
            all.add(
                    new BoundStatement.Handler(
                            handlers++,
                            HandlerAction.EXIT,
                            List.of(),
                            new BoundStatement.Block(
                                    -1,
                                    new JumpTarget("", false),
                                    false,
                                    List.of(),
                                    List.of(),
                                    List.of(),
                                    List.of(),
                                    list(part.statements(), inside, within, true)),
                            part.head()));
        }
        return new BoundStatement.Block(
                s.at(),
                new JumpTarget("", false),
                false,
                List.of(),
                all,
                List.of(),
                List.of(),
                body);
    }

    private BoundStatement choice(NativeStatement s, Map<String, Told> scope, Scope seen) {
        List<BoundStatement.Branch> branches = new ArrayList<>();
        Optional<List<BoundStatement>> otherwise = Optional.empty();
        for (Part part : s.parts()) {
            List<BoundStatement> inside = list(part.statements(), scope, seen, false);
            if (part.role() == Role.OTHERWISE) {
                otherwise = Optional.of(inside);
            } else {
                branches.add(new BoundStatement.Branch(nothing(s), inside));
            }
        }
        return s.what().equals("IF")
                ? new BoundStatement.If(s.at(), branches, otherwise)
                : new BoundStatement.Case(s.at(), Optional.empty(), branches, otherwise);
    }
}
