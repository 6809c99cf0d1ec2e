package dev.cantina.nativecode.postgresql;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Variable;
import dev.cantina.nativecode.BoundNative;
import dev.cantina.nativecode.NativeAdvice;
import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeStatement.Part;
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
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** The inside of routines in PL/pgSQL: read, with the types of their variables. */
final class PgInside {
    /** A type by its words: what the server calls it, and the columns of one that has some. */
    private static final String TYPES =
            """
            SELECT w, format_type(to_regtype(w), NULL), t.typtype = 'c',
                   ARRAY(SELECT a.attname::text FROM pg_attribute a WHERE a.attrelid = t.typrelid
                          AND a.attnum > 0 AND NOT a.attisdropped ORDER BY a.attnum),
                   ARRAY(SELECT format_type(a.atttypid, NULL) FROM pg_attribute a
                          WHERE a.attrelid = t.typrelid
                          AND a.attnum > 0 AND NOT a.attisdropped ORDER BY a.attnum)
              FROM unnest(CAST(? AS text[])) w LEFT JOIN pg_type t ON t.oid = to_regtype(w)
            """;

    private static final String COLUMNS =
            """
            SELECT w, format_type(a.atttypid, NULL), FALSE, ARRAY[]::text[], ARRAY[]::text[]
              FROM unnest(CAST(? AS text[])) w
              JOIN pg_attribute a ON a.attrelid = to_regclass(regexp_replace(w, '\\.[^.]*$', ''))
                AND a.attname = regexp_replace(w, '^.*\\.', '')
            """;

    /** The tables that a trigger function stands on. */
    private static final String TRIGGERS =
            "SELECT DISTINCT tgrelid::regclass::text FROM pg_trigger WHERE NOT tgisinternal AND"
                    + " tgfoid = ?";

    private static final String PLAIN =
            "[\\w\\s.\"]+(\\(\\s*\\d+\\s*(,\\s*-?\\d+\\s*)?\\))?(\\s*\\[\\d*\\])*";

    private record Type(String name, boolean composite, List<String> fields, List<String> types) {}

    private record Inside(
            PgCode.Known known,
            NativeStatement block,
            List<NativeVariable> outside,
            BoundNative bound,
            RoutineCode code) {}

    private final Connection connection;
    private final List<Inside> all = new ArrayList<>();
    private final List<Problem> unread = new ArrayList<>();
    private final Map<String, Type> types = new HashMap<>();
    private final int first;

    /**
     * @param first the number of the first, for its probes
     */
    PgInside(Connection connection, List<PgCode.Known> known, int first) {
        this.connection = connection;
        this.first = first;
        List<PgCode.Known> readable = new ArrayList<>();
        List<NativeStatement> blocks = new ArrayList<>();
        for (PgCode.Known one : known) {
            if (!one.language().equals("plpgsql") || one.written().body().isEmpty()) {
                continue;
            }
            try {
                blocks.add(PlParser.parse(one.written().body().get(), one.written().doubled()));
                readable.add(one);
            } catch (NativeSyntaxException e) {
                unread.add(
                        Problem.advice(
                                e.span(),
                                "not-looked-into",
                                one.written().name()
                                        + " runs, and can't be looked into: "
                                        + e.getMessage(),
                                "please report it, with this routine"));
            }
        }
        try {
            look(readable, blocks);
        } catch (SQLException e) {
            throw new IllegalStateException("the types can't be read: " + e.getMessage(), e);
        }
    }

    /**
     * What can be seen from the statements, and what could not be read, though the server runs it.
     */
    List<Problem> advice() {
        List<Problem> advice = new ArrayList<>(unread);
        for (Inside one : all) {
            Set<String> texts = new LinkedHashSet<>();
            for (int i = 0; i < one.known.names().size() && i < one.known.types().size(); i++) {
                if (Set.of("text", "character varying", "name")
                        .contains(one.known.types().get(i))) {
                    texts.add(one.known.names().get(i).toLowerCase(Locale.ROOT));
                }
            }
            boolean doubled = one.known.written().doubled();
            advice.addAll(
                    new NativeAdvice(s -> words(s, doubled), texts).of(one.block, one.outside));
        }
        return advice;
    }

    private static List<NativeAdvice.Word> words(Span span, boolean doubled) {
        try {
            return PgLexer.read(span.source(), span.start(), span.end(), doubled).stream()
                    .map(
                            t ->
                                    new NativeAdvice.Word(
                                            t.text().toLowerCase(Locale.ROOT),
                                            t.isName(),
                                            t.start()))
                    .toList();
        } catch (NativeSyntaxException e) {
            // It was read once already.
            return List.of();
        }
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

    List<String> woven(Probe.Detail detail, Set<PgCode.Known> without) {
        List<String> woven = new ArrayList<>();
        for (int i = 0; i < all.size(); i++) {
            Inside one = all.get(i);
            if (!without.contains(one.known)) {
                woven.add(
                        new PgWeaver(
                                        one.known.written(),
                                        first + i,
                                        detail,
                                        one.known.value(),
                                        quiet(one, detail),
                                        this::isComposite)
                                .weave(one.block, one.outside));
            }
        }
        return woven;
    }

    /** The routines as they are written. */
    List<String> unwoven(Set<PgCode.Known> without) {
        return all.stream()
                .filter(one -> !without.contains(one.known))
                .map(one -> one.known.written().span())
                .map(
                        span ->
                                PgWeaver.replacing(
                                        span.source()
                                                .written()
                                                .substring(span.start(), span.end())))
                .toList();
    }

    /** The statements that can set off no routine, where somebody wants the order alone. */
    private QuietStatements.Quiet quiet(Inside one, Probe.Detail detail) {
        if (detail != Probe.Detail.ORDER) {
            return QuietStatements.Quiet.NONE;
        }
        if (made == null) {
            made = names(MADE);
            loud = names(LOUD);
        }
        boolean doubled = one.known.written().doubled();
        return made.contains("")
                ? QuietStatements.Quiet.NONE
                : new QuietStatements(s -> words(s, doubled), made, Optional.of(loud))
                        .of(one.block);
    }

    private Set<String> names(String query) {
        Set<String> names = new HashSet<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            while (row.next()) {
                names.add(row.getString(1));
            }
        } catch (SQLException e) {
            throw new IllegalStateException("the catalog can't be read: " + e.getMessage(), e);
        }
        return names;
    }

    private Set<String> made;
    private Set<String> loud;

    /**
     * Relations whose change may fire a trigger or a rule, or changes rows of others: with triggers
     * that are not the log's, with rules (views have one), with parts, and those that foreign keys
     * refer to which pass a change on.
     */
    private static final String LOUD =
            """
            SELECT lower(c.relname) FROM pg_class c
             WHERE c.relnamespace NOT IN ('pg_catalog'::regnamespace, 'information_schema'::regnamespace)
               AND (c.relkind NOT IN ('r', 'S', 'i', 'I', 't', 'c')
                 OR EXISTS (SELECT 1 FROM pg_trigger t JOIN pg_proc p ON p.oid = t.tgfoid
                   WHERE t.tgrelid = c.oid AND p.oid >= 16384 AND p.proname <> 'cantina_change')
                 OR EXISTS (SELECT 1 FROM pg_rewrite w WHERE w.ev_class = c.oid)
                 OR EXISTS (SELECT 1 FROM pg_inherits h WHERE c.oid IN (h.inhparent, h.inhrelid))
                 OR EXISTS (SELECT 1 FROM pg_constraint f WHERE f.confrelid = c.oid
                   AND (f.confdeltype IN ('c', 'n', 'd') OR f.confupdtype IN ('c', 'n', 'd'))))
            """;

    /**
     * The names of all routines that somebody has made; an empty one where something else than a
     * trigger may call one: an operator, a cast, a domain, a table's own expressions.
     */
    private static final String MADE =
            """
            SELECT DISTINCT lower(proname) FROM pg_proc
             WHERE pronamespace NOT IN ('pg_catalog'::regnamespace, 'information_schema'::regnamespace)
               AND pronamespace <> pg_my_temp_schema()
            UNION ALL
            SELECT '' WHERE EXISTS
              (SELECT 1 FROM pg_depend d JOIN pg_proc p ON p.oid = d.refobjid
                WHERE d.refclassid = 'pg_proc'::regclass AND p.oid >= 16384
                  AND d.classid NOT IN ('pg_trigger'::regclass, 'pg_proc'::regclass,
                    'pg_event_trigger'::regclass, 'pg_extension'::regclass)
                  AND NOT EXISTS (SELECT 1 FROM pg_depend e WHERE e.classid = 'pg_proc'::regclass
                    AND e.objid = p.oid AND e.deptype = 'e'))
            """;

    private void look(List<PgCode.Known> known, List<NativeStatement> blocks) throws SQLException {
        List<List<NativeVariable>> outside = new ArrayList<>();
        Set<String> words = new LinkedHashSet<>();
        for (int i = 0; i < known.size(); i++) {
            outside.add(outside(known.get(i)));
            outside.get(i).forEach(v -> words.add(v.type()));
            words(blocks.get(i), words);
        }
        resolve(words);
        for (int i = 0; i < known.size(); i++) {
            PgCode.Known one = known.get(i);
            BoundRoutine.Kind kind =
                    one.trigger()
                            ? BoundRoutine.Kind.TRIGGER
                            : one.returns() == PgCode.Returns.VALUE
                                            || one.returns() == PgCode.Returns.ROWS
                                    ? BoundRoutine.Kind.FUNCTION
                                    : BoundRoutine.Kind.PROCEDURE;
            BoundNative bound =
                    new BoundNative(PgWeaver::key, this::held)
                            .of(
                                    kind,
                                    one.written().name(),
                                    one.written().span(),
                                    blocks.get(i),
                                    outside.get(i),
                                    v -> kindOf(one, v),
                                    kind == BoundRoutine.Kind.FUNCTION
                                            ? Optional.of(PgRoutines.type(one.returnType()))
                                            : Optional.empty());
            all.add(
                    new Inside(
                            one,
                            blocks.get(i),
                            outside.get(i),
                            bound,
                            RoutineCode.onServer(bound.routine())));
        }
    }

    private static void words(NativeStatement s, Set<String> words) {
        s.declared().forEach(v -> words.add(v.type()));
        for (Part part : s.parts()) {
            part.statements().forEach(i -> words(i, words));
        }
    }

    /** What a trigger function sees of what has fired it ("Triggers on Data Changes"). */
    private static final Map<String, String> TRIGGER_VARIABLES = new LinkedHashMap<>();

    static {
        TRIGGER_VARIABLES.put("tg_op", "text");
        TRIGGER_VARIABLES.put("tg_table_name", "name");
        TRIGGER_VARIABLES.put("tg_name", "name");
        TRIGGER_VARIABLES.put("tg_when", "text");
        TRIGGER_VARIABLES.put("tg_level", "text");
        TRIGGER_VARIABLES.put("tg_relid", "oid");
        TRIGGER_VARIABLES.put("tg_relname", "name");
        TRIGGER_VARIABLES.put("tg_table_schema", "name");
        TRIGGER_VARIABLES.put("tg_nargs", "integer");
        TRIGGER_VARIABLES.put("tg_argv", "text[]");
    }

    private static final Map<String, String> EVENT_VARIABLES =
            new TreeMap<>(Map.of("tg_event", "text", "tg_tag", "text"));

    /** Told whether the function names them or not: one function may be that of many triggers. */
    private static final Set<String> ALWAYS_TOLD =
            Set.of("tg_op", "tg_table_name", "tg_name", "tg_event", "tg_tag");

    /** What is there before anything is declared: the parameters, or a trigger's rows. */
    private List<NativeVariable> outside(PgCode.Known one) throws SQLException {
        Span place = one.written().nameSpan();
        List<NativeVariable> outside = new ArrayList<>();
        if (one.trigger()) {
            if (one.returnType().equals("trigger")) {
                String table = table(one);
                outside.add(new NativeVariable("OLD", table, NativeVariable.Kind.ROW, place));
                outside.add(new NativeVariable("NEW", table, NativeVariable.Kind.ROW, place));
            }
            Map<String, String> told =
                    one.returnType().equals("trigger") ? TRIGGER_VARIABLES : EVENT_VARIABLES;
            String body = one.written().body().map(Span::text).orElse("").toLowerCase(Locale.ROOT);
            told.forEach(
                    (name, type) -> {
                        if (ALWAYS_TOLD.contains(name) || body.contains(name)) {
                            outside.add(
                                    new NativeVariable(
                                            name, type, NativeVariable.Kind.SPECIAL, place));
                        }
                    });
            return outside;
        }
        for (int i = 0; i < one.types().size(); i++) {
            String name = one.names().get(i);
            outside.add(
                    new NativeVariable(
                            name.isEmpty() ? "$" + (i + 1) : PgCode.quoted(name),
                            one.types().get(i),
                            NativeVariable.Kind.PARAMETER,
                            place,
                            name.isEmpty() ? "" : PgCode.quoted(one.written().name())));
        }
        return outside;
    }

    /** The table that a trigger function is for; a record where there are several, or none. */
    private String table(PgCode.Known one) throws SQLException {
        List<String> tables = new ArrayList<>();
        try (PreparedStatement statement = connection.prepareStatement(TRIGGERS)) {
            statement.setLong(1, one.oid());
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    tables.add(row.getString(1));
                }
            }
        }
        return tables.size() == 1 ? tables.get(0) : "record";
    }

    private static Variable.Kind kindOf(PgCode.Known one, NativeVariable variable) {
        return switch (variable.kind()) {
            case ROW ->
                    variable.name().equals("OLD") ? Variable.Kind.OLD_ROW : Variable.Kind.NEW_ROW;
            case PARAMETER -> mode(one, variable);
            case CONSTANT, SPECIAL -> Variable.Kind.CONSTANT;
            default -> Variable.Kind.LOCAL;
        };
    }

    private static Variable.Kind mode(PgCode.Known one, NativeVariable variable) {
        for (int i = 0; i < one.names().size(); i++) {
            String name =
                    one.names().get(i).isEmpty()
                            ? "$" + (i + 1)
                            : PgCode.quoted(one.names().get(i));
            if (name.equals(variable.name())) {
                return switch (one.modes().get(i)) {
                    case 'o', 't' -> Variable.Kind.OUT;
                    case 'b' -> Variable.Kind.INOUT;
                    default -> Variable.Kind.IN;
                };
            }
        }
        return Variable.Kind.IN;
    }

    // ---------------------------------------------------------------- types

    private static String bare(String type) {
        return type.strip().replaceAll("\\s+", " ");
    }

    private void resolve(Set<String> words) throws SQLException {
        Set<String> named = new LinkedHashSet<>();
        Set<String> columns = new LinkedHashSet<>();
        for (String word : words) {
            String lower = bare(word).toLowerCase(Locale.ROOT);
            if (lower.endsWith("%rowtype")) {
                named.add(bare(word.substring(0, word.lastIndexOf('%'))));
            } else if (lower.endsWith("%type")) {
                columns.add(bare(word.substring(0, word.lastIndexOf('%'))));
            } else if (!lower.equals("record") && lower.matches(PLAIN)) {
                named.add(bare(word));
            }
        }
        read(TYPES, named, "");
        read(COLUMNS, columns, "%type");
    }

    private void read(String sql, Set<String> words, String ending) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            statement.setArray(1, connection.createArrayOf("text", words.toArray()));
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    if (row.getString(2) != null && !row.getString(2).equals("-")) {
                        types.put(
                                row.getString(1).toLowerCase(Locale.ROOT) + ending,
                                new Type(
                                        row.getString(2),
                                        row.getBoolean(3),
                                        List.of((String[]) row.getArray(4).getArray()),
                                        List.of((String[]) row.getArray(5).getArray())));
                    }
                }
            }
        }
    }

    private Optional<Type> of(NativeVariable variable) {
        String lower = bare(variable.type()).toLowerCase(Locale.ROOT);
        return Optional.ofNullable(
                types.get(
                        lower.replaceFirst("\\s*%rowtype$", "")
                                .replaceFirst("\\s*%type$", "%type")));
    }

    private boolean isComposite(NativeVariable variable) {
        String lower = bare(variable.type()).toLowerCase(Locale.ROOT);
        return lower.equals("record")
                || lower.endsWith("%rowtype")
                || variable.kind() == NativeVariable.Kind.ROW
                || of(variable).map(Type::composite).orElse(false);
    }

    /** The type that a variable is held as: a row where its fields are known, else a text. */
    private SqlType held(NativeVariable variable) {
        Optional<Type> type = of(variable);
        if (isComposite(variable)) {
            if (type.isEmpty() || type.get().fields().isEmpty()) {
                return SqlType.VARCHAR;
            }
            List<SqlType.Field> fields = new ArrayList<>();
            for (int i = 0; i < type.get().fields().size(); i++) {
                fields.add(
                        new SqlType.Field(
                                type.get().fields().get(i),
                                PgRoutines.type(type.get().types().get(i))));
            }
            return new SqlType.Row(fields);
        }
        SqlType held = type.map(t -> PgRoutines.type(t.name())).orElse(SqlType.VARCHAR);
        // As the server writes it.
        return held instanceof SqlType.Array ? SqlType.VARCHAR : held;
    }

    /** Whether only a value tells what fields it has. */
    boolean isRecord(NativeVariable variable) {
        return isComposite(variable) && of(variable).isEmpty();
    }

    /** The types of a row's fields. */
    List<String> fieldTypes(NativeVariable variable) {
        return of(variable).orElseThrow().types();
    }

    /** A variable's type as a statement may say it. */
    String typeName(NativeVariable variable) {
        return isComposite(variable) ? "text" : of(variable).map(Type::name).orElse("text");
    }
}
