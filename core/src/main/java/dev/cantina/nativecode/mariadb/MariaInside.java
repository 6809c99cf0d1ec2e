package dev.cantina.nativecode.mariadb;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Variable;
import dev.cantina.nativecode.BoundNative;
import dev.cantina.nativecode.NativeAdvice;
import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.QuietStatements;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.RoutineCode;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/** The inside of stored routines and triggers: read, with the types of their variables. */
final class MariaInside {
    /** A parameter as the server has it. */
    record Parameter(String name, String type, boolean input, boolean output) {}

    /** A column of a trigger's table. */
    record Column(String name, String type) {}

    private record Inside(
            MariaRoutine routine,
            NativeStatement body,
            List<NativeVariable> outside,
            List<Parameter> parameters,
            Map<String, List<Column>> rows,
            BoundNative bound,
            RoutineCode code,
            Optional<MariaPackage> of) {}

    private static final Set<String> SHAPES =
            Set.of(
                    "geometry",
                    "point",
                    "linestring",
                    "polygon",
                    "multipoint",
                    "multilinestring",
                    "multipolygon",
                    "geometrycollection");

    private final Connection connection;
    private final List<Inside> all = new ArrayList<>();
    private final List<Problem> unread = new ArrayList<>();
    private final MariaRowTypes rowTypes;

    MariaInside(Connection connection) {
        this.connection = connection;
        this.rowTypes = new MariaRowTypes(connection);
    }

    /**
     * Reads a routine or trigger.
     *
     * @param returns what a function gives
     * @param of the package that it belongs to
     */
    void add(
            MariaRoutine routine,
            List<Parameter> parameters,
            Optional<SqlType> returns,
            Optional<MariaPackage> of)
            throws SQLException {
        NativeStatement body;
        if (routine.speaksOtherwise()) {
            unread.add(
                    Problem.advice(
                            routine.nameSpan(),
                            "not-looked-into",
                            routine.name()
                                    + " runs, and can't be looked into: it was made under "
                                    + routine.modes(),
                            "its quotes, or its words, mean something else there"));
            return;
        }
        try {
            body = MariaParser.parse(routine);
        } catch (NativeSyntaxException e) {
            unread.add(
                    Problem.advice(
                            e.span(),
                            "not-looked-into",
                            routine.name() + " runs, and can't be looked into: " + e.getMessage(),
                            "please report it, with this routine"));
            return;
        }
        Map<String, List<Column>> rows = rows(routine);
        List<NativeVariable> outside = new ArrayList<>();
        Span place = routine.nameSpan();
        for (Parameter one : parameters) {
            outside.add(
                    new NativeVariable(
                            MariaCode.quoted(one.name()),
                            one.type(),
                            NativeVariable.Kind.PARAMETER,
                            place));
        }
        // A parameter hides what the package has of that name.
        of.ifPresent(
                p ->
                        p.variables().stream()
                                .filter(v -> outside.stream().noneMatch(o -> isSame(o, v)))
                                .forEach(v -> outside.add(0, v)));
        rows.keySet()
                .forEach(
                        r ->
                                outside.add(
                                        new NativeVariable(
                                                r, "row", NativeVariable.Kind.ROW, place)));
        List<NativeVariable> around = new ArrayList<>(outside);
        of.ifPresent(p -> around.addAll(p.variables()));
        rows.putAll(rowTypes.of(body, around, routine.modes()));
        BoundRoutine.Kind kind =
                switch (routine.what()) {
                    case "trigger" -> BoundRoutine.Kind.TRIGGER;
                    case "function" -> BoundRoutine.Kind.FUNCTION;
                    default -> BoundRoutine.Kind.PROCEDURE;
                };
        BoundNative bound =
                new BoundNative(MariaWeaver::key, v -> held(v, rows))
                        .of(
                                kind,
                                routine.name(),
                                routine.span(),
                                body,
                                outside,
                                v -> kindOf(v, parameters),
                                returns);
        all.add(
                new Inside(
                        routine,
                        body,
                        outside,
                        parameters,
                        rows,
                        bound,
                        RoutineCode.onServer(bound.routine()),
                        of));
    }

    private static boolean isSame(NativeVariable a, NativeVariable b) {
        return MariaWeaver.key(a.name()).equalsIgnoreCase(MariaWeaver.key(b.name()));
    }

    /** A package that can't be looked into. */
    void unread(MariaPackage one) {
        unread.add(
                Problem.advice(
                        one.nameSpan(),
                        "not-looked-into",
                        one.name()
                                + " runs, and can't be looked into or called by itself: it was made"
                                + " under "
                                + one.modes(),
                        "its quotes, or its words, mean something else there"));
    }

    /**
     * What can be seen from the statements, and what could not be read, though the server runs it.
     */
    List<Problem> advice() {
        List<Problem> advice = new ArrayList<>(unread);
        for (Inside one : all) {
            Set<String> texts = new HashSet<>();
            for (Parameter parameter : one.parameters) {
                String type = parameter.type().toLowerCase(Locale.ROOT);
                if (type.contains("char") || type.contains("text")) {
                    texts.add(parameter.name().toLowerCase(Locale.ROOT));
                }
            }
            advice.addAll(new NativeAdvice(words(one.routine), texts).of(one.body, one.outside));
        }
        return advice;
    }

    private static Function<Span, List<NativeAdvice.Word>> words(MariaRoutine routine) {
        return span -> words(span, routine.modes());
    }

    private static List<NativeAdvice.Word> words(Span span, String modes) {
        List<NativeAdvice.Word> words = new ArrayList<>();
        MariaLexer lexer = new MariaLexer(span.source(), span.start(), span.end());
        lexer.modes(modes);
        try {
            for (MariaLexer.Token t = lexer.next(); t != null; t = lexer.next()) {
                words.add(
                        new NativeAdvice.Word(
                                t.text().toLowerCase(Locale.ROOT), t.isName(), t.start()));
            }
        } catch (NativeSyntaxException e) {
            // It was read once already.
            return words;
        }
        return words;
    }

    List<BoundRoutine> routines() {
        return all.stream().map(i -> i.bound.routine()).toList();
    }

    BoundNative bound(int routine) {
        return all.get(routine).bound;
    }

    RoutineCode code(int routine) {
        return all.get(routine).code;
    }

    /**
     * The statements that put woven copies in the places of all that could be read.
     *
     * @param first the number of the first, for its probes
     */
    List<String> woven(Map<MariaRoutine, Integer> standIns, Probe.Detail detail, int first)
            throws SQLException {
        made = detail == Probe.Detail.ORDER ? made() : Set.of();
        loud = detail == Probe.Detail.ORDER ? Optional.of(loud()) : Optional.empty();
        List<String> woven = new ArrayList<>();
        Map<MariaPackage, Map<MariaRoutine, String>> packages = new IdentityHashMap<>();
        for (int i = 0; i < all.size(); i++) {
            Inside one = all.get(i);
            if (one.of.isPresent()) {
                packages.computeIfAbsent(one.of.get(), p -> new IdentityHashMap<>())
                        .put(one.routine, weave(i, first, standIns, detail, Optional.empty()));
                continue;
            }
            woven.add(
                    "DROP "
                            + one.routine.what().toUpperCase(Locale.ROOT)
                            + " IF EXISTS "
                            + MariaCode.quoted(one.routine.name()));
            Optional<String> before =
                    one.routine.what().equals("trigger")
                            ? next(connection, one.routine.name())
                            : Optional.empty();
            woven.add("SET sql_mode = '" + one.routine.modes() + "'");
            woven.add(weave(i, first, standIns, detail, before));
        }
        for (MariaPackage one : packages.keySet()) {
            woven.add("SET sql_mode = '" + one.modes() + "'");
            woven.add("DROP PACKAGE BODY IF EXISTS " + MariaCode.quoted(one.name()));
            woven.add(woven(one, packages.get(one)));
        }
        woven.add("SET sql_mode = @@GLOBAL.sql_mode");
        return woven;
    }

    private String weave(
            int number,
            int first,
            Map<MariaRoutine, Integer> standIns,
            Probe.Detail detail,
            Optional<String> before) {
        Inside one = all.get(number);
        try {
            return new MariaWeaver(
                            one.routine,
                            first + number,
                            one.rows,
                            Optional.ofNullable(standIns.get(one.routine)),
                            one.parameters,
                            one.bound.routine().returns(),
                            new QuietStatements(words(one.routine), made, loud).of(one.body),
                            detail)
                    .weave(one.body, one.outside, before);
        } catch (NativeSyntaxException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The names of all routines that somebody has made. */
    private Set<String> made = Set.of();

    private Optional<Set<String>> loud = Optional.empty();

    /**
     * Tables whose change may fire a trigger that is not the log's, or changes rows of others by a
     * foreign key; and all views.
     */
    private Set<String> loud() throws SQLException {
        Set<String> names = new HashSet<>();
        try (PreparedStatement statement =
                        connection.prepareStatement(
                                "SELECT LOWER(EVENT_OBJECT_TABLE) FROM information_schema.TRIGGERS"
                                        + " WHERE TRIGGER_SCHEMA = DATABASE()"
                                        + " AND TRIGGER_NAME NOT LIKE 'cantina\\_%'"
                                        + " UNION SELECT LOWER(TABLE_NAME) FROM"
                                        + " information_schema.TABLES WHERE TABLE_SCHEMA ="
                                        + " DATABASE() AND TABLE_TYPE <> 'BASE TABLE'"
                                        + " UNION SELECT LOWER(REFERENCED_TABLE_NAME) FROM"
                                        + " information_schema.REFERENTIAL_CONSTRAINTS WHERE"
                                        + " CONSTRAINT_SCHEMA = DATABASE() AND (DELETE_RULE NOT IN"
                                        + " ('NO ACTION', 'RESTRICT') OR UPDATE_RULE NOT IN"
                                        + " ('NO ACTION', 'RESTRICT'))");
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                names.add(row.getString(1));
            }
        }
        return names;
    }

    private Set<String> made() throws SQLException {
        Set<String> names = new HashSet<>();
        try (PreparedStatement statement =
                        connection.prepareStatement(
                                "SELECT LOWER(ROUTINE_NAME) FROM information_schema.ROUTINES"
                                        + " WHERE ROUTINE_SCHEMA = DATABASE()");
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                names.add(row.getString(1));
            }
        }
        all.stream()
                .filter(i -> i.of.isPresent())
                .map(i -> i.routine.name().toLowerCase(Locale.ROOT))
                .forEach(name -> names.add(name.substring(name.indexOf('.') + 1)));
        return names;
    }

    /** A package's body with woven routines in it. */
    static String woven(MariaPackage of, Map<MariaRoutine, String> routines) {
        Span whole = of.statement().span();
        String text = MariaLoader.withoutDefiner(of.statement());
        StringBuilder woven = new StringBuilder();
        int from = whole.start();
        for (MariaPackage.Member one : of.routines()) {
            Span span = one.routine().span();
            if (routines.containsKey(one.routine())) {
                woven.append(text, from - whole.start(), span.start() - whole.start());
                woven.append(routines.get(one.routine()));
                from = span.end();
            }
        }
        return woven.append(text, from - whole.start(), text.length()).toString();
    }

    /** The trigger that runs behind one: its copy has to stand before that again. */
    static Optional<String> next(Connection connection, String trigger) throws SQLException {
        try (PreparedStatement statement =
                connection.prepareStatement(
                        "SELECT w.TRIGGER_NAME FROM information_schema.TRIGGERS t"
                                + " JOIN information_schema.TRIGGERS w"
                                + " ON w.TRIGGER_SCHEMA = t.TRIGGER_SCHEMA"
                                + " AND w.EVENT_OBJECT_TABLE = t.EVENT_OBJECT_TABLE"
                                + " AND w.EVENT_MANIPULATION = t.EVENT_MANIPULATION"
                                + " AND w.ACTION_TIMING = t.ACTION_TIMING"
                                + " AND w.ACTION_ORDER > t.ACTION_ORDER"
                                + " WHERE t.TRIGGER_SCHEMA = DATABASE() AND t.TRIGGER_NAME = ?"
                                + " ORDER BY w.ACTION_ORDER LIMIT 1")) {
            statement.setString(1, trigger);
            try (ResultSet row = statement.executeQuery()) {
                return row.next() ? Optional.of(row.getString(1)) : Optional.empty();
            }
        }
    }

    /** A trigger's rows, with their columns. */
    private Map<String, List<Column>> rows(MariaRoutine routine) throws SQLException {
        Map<String, List<Column>> rows = new LinkedHashMap<>();
        if (routine.table().isEmpty()) {
            return rows;
        }
        List<Column> columns = rowTypes.columns(routine.table().get());
        for (MariaLexer.Token token : routine.statement().tokens()) {
            if (token.is("on")) {
                break;
            }
            if (token.is("update") || token.is("delete")) {
                rows.put("OLD", columns);
            }
            if (token.is("update") || token.is("insert")) {
                rows.put("NEW", columns);
            }
        }
        return rows;
    }

    private static Variable.Kind kindOf(NativeVariable variable, List<Parameter> parameters) {
        if (variable.kind() == NativeVariable.Kind.ROW) {
            return variable.name().equals("OLD") ? Variable.Kind.OLD_ROW : Variable.Kind.NEW_ROW;
        }
        for (Parameter one : parameters) {
            if (MariaCode.quoted(one.name()).equals(variable.name())) {
                return one.input()
                        ? one.output() ? Variable.Kind.INOUT : Variable.Kind.IN
                        : Variable.Kind.OUT;
            }
        }
        return variable.kind() == NativeVariable.Kind.SPECIAL
                ? Variable.Kind.CONSTANT
                : Variable.Kind.LOCAL;
    }

    /** The columns of a variable that is a row; empty where they are not known, or it is none. */
    static List<Column> columns(NativeVariable variable, Map<String, List<Column>> rows) {
        return variable.kind() == NativeVariable.Kind.ROW
                ? rows.getOrDefault(variable.name(), List.of())
                : rows.getOrDefault(bare(variable), List.of());
    }

    private static SqlType held(NativeVariable variable, Map<String, List<Column>> rows) {
        List<Column> columns = columns(variable, rows);
        if (!columns.isEmpty()) {
            return new SqlType.Row(
                    columns.stream()
                            .map(c -> new SqlType.Field(c.name(), MariaCode.held(c.type())))
                            .toList());
        }
        return isShown(variable) ? MariaCode.held(variable.type()) : SqlType.VARCHAR;
    }

    private static String bare(NativeVariable variable) {
        return variable.type().strip().toLowerCase(Locale.ROOT);
    }

    /** Whether a variable has a value that can be told as a text: rows and cursors have none. */
    static boolean isShown(NativeVariable variable) {
        String type = bare(variable);
        return variable.kind() != NativeVariable.Kind.CURSOR
                && !type.startsWith("row")
                && !type.equals("cursor")
                && !(type.startsWith("type of") && type.indexOf('.') < 0)
                && variable.kind() != NativeVariable.Kind.SPECIAL;
    }

    /** The text that a value is told as; bytes are told in hexadecimal digits, bits as a number. */
    static String told(String value, String type) {
        if (isShape(type)) {
            return "ST_AsText(" + value + ")";
        }
        SqlType held = MariaCode.held(type);
        return held instanceof SqlType.Bytes
                ? "HEX(" + value + ")"
                : "CAST(" + value + (isBits(type) ? " + 0" : "") + " AS CHAR)";
    }

    /** The value of a text that is told. */
    static String given(String text, String type) {
        if (MariaCode.held(type) instanceof SqlType.Bytes) {
            return "UNHEX(" + text + ")";
        }
        if (isShape(type)) {
            return "ST_GeomFromText(" + text + ")";
        }
        return isBits(type) ? "CAST(" + text + " AS UNSIGNED)" : text;
    }

    /** A type of the plane's shapes, which no cast makes a text of. */
    private static boolean isShape(String type) {
        return SHAPES.contains(type.strip().toLowerCase(Locale.ROOT).replaceFirst("\\W.*", ""));
    }

    static boolean isBits(String type) {
        return type.strip().toLowerCase(Locale.ROOT).matches("bit\\b.*");
    }
}
