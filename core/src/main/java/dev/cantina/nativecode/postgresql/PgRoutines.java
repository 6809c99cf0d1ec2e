package dev.cantina.nativecode.postgresql;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.postgresql.PostgresCatalog;
import dev.cantina.nativecode.PlacedRoutines;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.sql.Array;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The routines that a project has made in a database, as its catalog has them. */
final class PgRoutines {
    /** The procedures and functions of the database's own schemas, as its catalog has them. */
    private static final String ROUTINES =
            """
            SELECT p.oid, n.nspname, p.proname, p.prokind, p.proretset, rt.typname, rt.typtype,
                   p.proargmodes::text[], p.proargnames,
                   ARRAY(SELECT t.typname FROM unnest(COALESCE(p.proallargtypes, p.proargtypes::oid[]))
                           WITH ORDINALITY a (id, n) JOIN pg_type t ON t.oid = a.id ORDER BY a.n)
                     ::text[],
                   ARRAY(SELECT format_type(a.id, NULL)
                           FROM unnest(COALESCE(p.proallargtypes, p.proargtypes::oid[]))
                           WITH ORDINALITY a (id, n) ORDER BY a.n)::text[],
                   p.pronargdefaults, p.prosrc, p.oid::regprocedure::text, p.provariadic <> 0,
                   l.lanname, format_type(p.prorettype, NULL),
                   CASE WHEN pg_function_is_visible(p.oid) THEN '' ELSE n.nspname || '.' END,
                   (SELECT quote_ident(nspname) FROM pg_namespace WHERE oid = rt.typnamespace)
              FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace
              JOIN pg_type rt ON rt.oid = p.prorettype
              JOIN pg_language l ON l.oid = p.prolang
             WHERE n.nspname NOT IN ('pg_catalog', 'information_schema')
               AND n.nspname NOT LIKE 'pg\\_%' AND p.prokind IN ('f', 'p')
               AND NOT EXISTS (SELECT 1 FROM pg_depend d
                                WHERE d.classid = 'pg_proc'::regclass AND d.objid = p.oid
                                  AND d.deptype = 'e')
             ORDER BY p.oid
            """;

    /** Each domain with the type that it is made of in the end. */
    private static final String DOMAINS =
            """
            WITH RECURSIVE made (domain, base) AS (
              SELECT oid, typbasetype FROM pg_type WHERE typtype = 'd' AND oid >= 16384
              UNION ALL
              SELECT m.domain, t.typbasetype FROM made m JOIN pg_type t ON t.oid = m.base
               WHERE t.typtype = 'd')
            SELECT format_type(m.domain, NULL), format_type(m.base, NULL)
              FROM made m JOIN pg_type t ON t.oid = m.base WHERE t.typtype <> 'd'
            """;

    private final Connection connection;
    private final PgLoader loader;
    private final Map<RoutineSymbol, PgCode.Known> known = new IdentityHashMap<>();
    private final List<PgCode.Known> all = new ArrayList<>();
    private final List<RoutineSymbol> symbols = new ArrayList<>();
    private final Map<String, String> domains = new HashMap<>();

    /**
     * @param loader knows the texts that they were made from
     */
    PgRoutines(Connection connection, PgLoader loader) {
        this.connection = connection;
        this.loader = loader;
    }

    /** All that were made from texts, trigger functions too. */
    List<PgCode.Known> all() {
        return all;
    }

    /** Those that can be called. */
    List<RoutineSymbol> symbols() {
        return List.copyOf(symbols);
    }

    /** One as the server has it; null where it has none. */
    PgCode.Known of(RoutineSymbol symbol) {
        return known.get(symbol);
    }

    /** Reads what there is now. */
    void read() throws SQLException {
        known.clear();
        all.clear();
        symbols.clear();
        Set<PgRoutine> taken = new HashSet<>();
        domains.clear();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(DOMAINS)) {
            while (row.next()) {
                domains.put(row.getString(1), row.getString(2));
            }
        }
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(ROUTINES)) {
            while (row.next()) {
                Optional<PgRoutine> written =
                        written(row.getString(2), row.getString(3), row.getString(13), taken);
                if (written.isEmpty()) {
                    continue;
                }
                taken.add(written.get());
                PgCode.Known one = known(row, written.get());
                all.add(one);
                if (!one.trigger()) {
                    RoutineSymbol symbol = symbol(one, row.getInt(12), row.getString(18));
                    known.put(symbol, one);
                    symbols.add(symbol);
                }
            }
        }
    }

    /** Takes the copies of the project's standard routines, as far as they are there. */
    void take(PgStandard taken) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(ROUTINES)) {
            while (row.next()) {
                Optional<PlacedRoutines.Copy> copy = taken.copy(row.getString(13));
                if (copy.isPresent()) {
                    PgCode.Known one = known(row, PgStandard.head(copy.get()));
                    all.add(one);
                    taken.take(copy.get(), one)
                            .ifPresent(
                                    symbol -> {
                                        known.put(symbol, one);
                                        symbols.add(symbol);
                                    });
                }
            }
        }
    }

    /** The text that a routine was made from: of those with its name the last with its body. */
    private Optional<PgRoutine> written(
            String schema, String name, String body, Set<PgRoutine> taken) {
        PgRoutine found = null;
        for (PgRoutine one : loader.routines()) {
            boolean named =
                    one.name().equals(name)
                            && one.schema().map(schema::equals).orElse(true)
                            && !taken.contains(one);
            boolean same =
                    one.body().isEmpty()
                            || body == null
                            || body.isEmpty()
                            || one.text().equals(body);
            if (named && same) {
                found = one;
                if (one.schema().isPresent()) {
                    break;
                }
            }
        }
        return Optional.ofNullable(found);
    }

    private static List<String> texts(Array array) throws SQLException {
        return array == null ? List.of() : List.of((String[]) array.getArray());
    }

    private PgCode.Known known(ResultSet row, PgRoutine written) throws SQLException {
        List<String> types = texts(row.getArray(10));
        List<Character> modes = new ArrayList<>();
        texts(row.getArray(8)).forEach(m -> modes.add(m.charAt(0)));
        while (modes.size() < types.size()) {
            modes.add('i');
        }
        List<String> names = new ArrayList<>(texts(row.getArray(9)));
        while (names.size() < types.size()) {
            names.add("");
        }
        boolean procedure = row.getString(4).equals("p");
        String returned = row.getString(6);
        boolean rows = row.getBoolean(5);
        boolean out = modes.contains('o') || modes.contains('b');
        PgCode.Returns returns =
                procedure
                        ? out ? PgCode.Returns.OUT : PgCode.Returns.NOTHING
                        : rows
                                ? PgCode.Returns.ROWS
                                : returned.equals("void")
                                        ? PgCode.Returns.NOTHING
                                        : out ? PgCode.Returns.OUT : PgCode.Returns.VALUE;
        return new PgCode.Known(
                row.getLong(1),
                written,
                returned.equals("trigger") || returned.equals("event_trigger"),
                row.getString(14),
                PgCode.quoted(row.getString(2)) + "." + PgCode.quoted(row.getString(3)),
                texts(row.getArray(11)),
                names,
                modes,
                returns,
                row.getString(17),
                row.getString(7).equals("c"),
                row.getBoolean(15),
                row.getString(16),
                returns == PgCode.Returns.VALUE && "berm".contains(row.getString(7))
                        ? Optional.of(row.getString(19) + "." + PgCode.quoted(returned))
                        : Optional.empty());
    }

    /** A name as people write it: one of small letters without quotes. */
    private static Name name(String text, Span span) {
        boolean plain = text.equals(text.toLowerCase(Locale.ROOT));
        return new Name(text, !plain, span);
    }

    /** The columns of the rows that it gives, where its head names them. */
    private List<SqlType.Field> columns(PgCode.Known one) {
        List<SqlType.Field> columns = new ArrayList<>();
        for (int i = 0; i < one.types().size(); i++) {
            char mode = one.modes().get(i);
            if (mode == 't' || mode == 'o' || mode == 'b') {
                columns.add(new SqlType.Field(one.names().get(i), held(one.types().get(i))));
            }
        }
        return columns;
    }

    private RoutineSymbol symbol(PgCode.Known one, int defaults, String before) {
        Span place = one.written().nameSpan();
        List<ParameterSymbol> parameters = new ArrayList<>();
        long inputs = one.modes().stream().filter(m -> m != 'o' && m != 't').count();
        int input = 0;
        for (int i = 0; i < one.types().size(); i++) {
            char mode = one.modes().get(i);
            if (mode == 't') {
                continue;
            }
            boolean given = mode != 'o';
            input += given ? 1 : 0;
            boolean initial = given && input > inputs - defaults;
            parameters.add(
                    new ParameterSymbol(
                            name(parameterName(one, i), place),
                            mode == 'o'
                                    ? Unit.Mode.OUT
                                    : mode == 'b' ? Unit.Mode.INOUT : Unit.Mode.IN,
                            held(one.types().get(i)),
                            initial
                                    ? Optional.of(new Expression.Opaque(place, List.of()))
                                    : Optional.empty()));
        }
        boolean function =
                one.returns() == PgCode.Returns.VALUE || one.returns() == PgCode.Returns.ROWS;
        Optional<SqlType> returns =
                switch (one.returns()) {
                    case VALUE -> Optional.of(held(one.returnType()));
                    case ROWS -> Optional.of(new SqlType.Table(columns(one)));
                    default -> Optional.empty();
                };
        String shown = before + one.written().name();
        return ServerCode.symbol(
                one.written().span(), function, name(shown, place), parameters, returns);
    }

    private static String parameterName(PgCode.Known one, int i) {
        return one.names().get(i).isEmpty() ? "arg" + (i + 1) : one.names().get(i);
    }

    /** The type that values of a parameter's type have: that of a domain is what it is made of. */
    private SqlType held(String shown) {
        return type(domains.getOrDefault(shown, shown));
    }

    /** The type of a parameter by what the server shows of it. */
    static SqlType type(String shown) {
        if (shown.equals("anyarray") || shown.equals("anycompatiblearray")) {
            return type("text[]");
        }
        boolean array = shown.endsWith("[]");
        String bare = array ? shown.substring(0, shown.length() - 2) : shown;
        String name =
                switch (bare) {
                    case "smallint" -> "int2";
                    case "integer" -> "int4";
                    case "bigint" -> "int8";
                    case "real" -> "float4";
                    case "double precision" -> "float8";
                    case "boolean" -> "bool";
                    // Without a length it holds one character alone.
                    case "character varying", "character" -> "varchar";
                    case "time without time zone" -> "time";
                    case "time with time zone" -> "timetz";
                    case "timestamp without time zone" -> "timestamp";
                    case "timestamp with time zone" -> "timestamptz";
                    default -> bare;
                };
        return PostgresCatalog.parameter(array ? "_" + name : name);
    }
}
