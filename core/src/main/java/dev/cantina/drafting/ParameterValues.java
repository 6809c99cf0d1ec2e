package dev.cantina.drafting;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.database.ForeignKey;
import dev.cantina.editing.OwnColumnUses;
import dev.cantina.facts.ColumnUse;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.TypeSyntax;
import dev.cantina.types.SqlType;
import java.math.BigDecimal;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Values that may be meant for the parameters of a routine: those of the columns that they are
 * compared with or stored into, and of the tables that these refer to. Where no such column can be
 * seen there are none.
 */
public final class ParameterValues {
    /** How many of a column are read at most. */
    public static final int MOST = 50;

    private final Workspace workspace;
    private final Map<String, List<Source>> sources = new LinkedHashMap<>();

    /**
     * A column whose values may be meant.
     *
     * @param closed whether no other value is allowed
     */
    private record Source(Table table, Column column, boolean closed) {}

    /**
     * What may be given for a parameter.
     *
     * @param values in the order of the database, without NULL
     * @param from the columns that they come from, such as {@code vessel.code}
     * @param closed whether the database takes no other
     */
    public record Known(List<Object> values, List<String> from, boolean closed) {}

    public ParameterValues(Workspace workspace, RoutineSymbol routine) throws SQLException {
        this.workspace = workspace;
        for (ParameterSymbol parameter : routine.parameters()) {
            sources.put(parameter.name().key(), new ArrayList<>());
        }
        if (workspace.project().own().isPresent() && routine.isOnServer()) {
            own(routine);
            return;
        }
        written(routine);
        if (!routine.isOnServer() && routine.tree().body().isPresent()) {
            used(
                    new Binder(workspace.catalog(), Optional.of(workspace.database()))
                            .bind(routine)
                            .routine());
        }
    }

    /** Those of a routine in a server's own words. */
    private void own(RoutineSymbol routine) throws SQLException {
        Map<String, List<OwnColumnUses.Use>> uses =
                OwnColumnUses.of(
                        workspace.project(), routine.span().source().name(), routine.name());
        for (ParameterSymbol parameter : routine.parameters()) {
            List<OwnColumnUses.Use> own =
                    uses.getOrDefault(parameter.name().text().toLowerCase(Locale.ROOT), List.of());
            for (boolean stored : new boolean[] {false, true}) {
                for (OwnColumnUses.Use use : own) {
                    Optional<Table> table = workspace.catalog().tableCalled(use.table());
                    int at = table.map(t -> t.positionCalled(use.column())).orElse(-1);
                    if (at >= 0 && use.stored() == stored) {
                        add(
                                parameter.name().key(),
                                table.get(),
                                table.get().columns().get(at),
                                stored);
                    }
                }
            }
        }
    }

    /** Types that are taken from a column. */
    private void written(RoutineSymbol routine) throws SQLException {
        for (var parameter : routine.tree().parameters()) {
            if (parameter.type() instanceof TypeSyntax.Like like && like.column().isPresent()) {
                Optional<Table> table = workspace.catalog().table(like.table());
                Optional<Column> column = table.flatMap(t -> t.column(like.column().get().key()));
                if (column.isPresent()) {
                    add(parameter.name().key(), table.get(), column.get(), false);
                }
            }
        }
    }

    private void used(BoundRoutine routine) throws SQLException {
        List<ColumnUse> uses = new ArrayList<>();
        Walker.statements(
                routine.body(),
                s -> {
                    Walker.sql(s).ifPresent(q -> uses.addAll(ColumnUse.of(q, workspace.catalog())));
                    Walker.expressions(
                            s,
                            e -> {
                                if (e instanceof BoundExpression.DatabaseExpression query) {
                                    uses.addAll(ColumnUse.of(query.sql(), workspace.catalog()));
                                }
                            });
                });
        // What is looked for is more likely meant than what is stored.
        for (boolean stored : new boolean[] {false, true}) {
            for (ColumnUse use : uses) {
                Optional<Variable> variable = use.variable();
                if (use.stored() == stored
                        && variable.filter(v -> v.kind().isParameter()).isPresent()) {
                    add(
                            variable.get().name().toUpperCase(Locale.ROOT),
                            use.table(),
                            use.column(),
                            stored);
                }
            }
        }
    }

    private void add(String parameter, Table table, Column column, boolean stored)
            throws SQLException {
        List<Source> known = sources.get(parameter);
        if (known == null) {
            return;
        }
        Optional<Source> referred = referred(table, column);
        Source source = referred.orElse(new Source(table, column, false));
        boolean twice =
                known.stream()
                        .anyMatch(
                                k ->
                                        k.table().key().equals(source.table().key())
                                                && k.column().key().equals(source.column().key()));
        if (!twice) {
            known.add(source);
        } else if (stored && referred.isPresent()) {
            known.replaceAll(
                    k -> k.table() == source.table() && k.column() == source.column() ? source : k);
        }
    }

    /** What a foreign key of one column refers to. */
    private Optional<Source> referred(Table table, Column column) throws SQLException {
        if (table.view()) {
            return Optional.empty();
        }
        for (ForeignKey key : ForeignKey.of(workspace.database().connection(), table)) {
            if (key.columns().size() == 1 && key.columns().get(0).equalsIgnoreCase(column.key())) {
                Optional<Table> of = workspace.catalog().tableCalled(key.of());
                int at = of.map(t -> t.positionCalled(key.referred().get(0))).orElse(-1);
                if (at >= 0) {
                    return Optional.of(new Source(of.get(), of.get().columns().get(at), true));
                }
            }
        }
        return Optional.empty();
    }

    /** What may be given for a parameter; no values where nothing can be seen. */
    public Known of(ParameterSymbol parameter) throws SQLException {
        Set<Object> values = new LinkedHashSet<>();
        List<String> from = new ArrayList<>();
        boolean closed = false;
        for (Source source : sources.getOrDefault(parameter.name().key(), List.of())) {
            List<Object> named = named(source);
            values.addAll(named);
            values.addAll(read(source));
            closed |= source.closed() || !named.isEmpty();
            from.add(source.table().name() + "." + source.column().name());
        }
        return new Known(List.copyOf(values), from, closed);
    }

    private List<Object> read(Source source) throws SQLException {
        String column = Name.written(source.column().name(), source.column().key());
        String sql =
                "SELECT DISTINCT "
                        + column
                        + " FROM "
                        + Name.written(source.table().name(), source.table().key())
                        + " WHERE "
                        + column
                        + " IS NOT NULL ORDER BY 1";
        List<Object> values = new ArrayList<>();
        Object mark = workspace.database().mark();
        try (PreparedStatement statement =
                workspace
                        .database()
                        .connection()
                        .prepareStatement(workspace.database().words(sql))) {
            statement.setMaxRows(MOST);
            try (ResultSet row = statement.executeQuery()) {
                SqlType type = workspace.database().typeOf(row.getMetaData(), 1);
                while (row.next()) {
                    values.add(workspace.database().read(row, 1, type));
                }
            }
        } catch (SQLException e) {
            // A type that can't be sorted, or a table that may not be read: then nothing is known.
            workspace.database().rollbackTo(mark);
        }
        return values;
    }

    /** The values that a CHECK names: {@code CHECK (kind IN ('tank', 'cask'))}. */
    private List<Object> named(Source source) throws SQLException {
        List<Object> values = new ArrayList<>();
        Object mark = workspace.database().mark();
        try (PreparedStatement statement =
                workspace
                        .database()
                        .connection()
                        .prepareStatement(
                                "SELECT C.CHECK_CLAUSE FROM INFORMATION_SCHEMA.CHECK_CONSTRAINTS C"
                                        + " JOIN INFORMATION_SCHEMA.TABLE_CONSTRAINTS T"
                                        + " ON T.CONSTRAINT_NAME = C.CONSTRAINT_NAME"
                                        + " AND T.CONSTRAINT_SCHEMA = C.CONSTRAINT_SCHEMA"
                                        + " WHERE UPPER(T.TABLE_NAME) = ?")) {
            statement.setString(1, source.table().key().toUpperCase(Locale.ROOT));
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    listed(row.getString(1), source.column(), values);
                }
            }
        } catch (SQLException e) {
            // Not every server tells everybody of them.
            workspace.database().rollbackTo(mark);
        }
        return values;
    }

    /** A condition that is nothing but {@code column IN (literals)}. */
    private static void listed(String clause, Column column, List<Object> values) {
        String text = clause == null ? "" : clause.replace('`', '"');
        List<SqlWords.Word> words =
                SqlWords.of(text).all().stream()
                        .filter(w -> !w.is("(") && !w.is(")") && !w.is(","))
                        .toList();
        boolean fits =
                words.size() > 2
                        && words.get(0).text().equalsIgnoreCase(column.key())
                        && words.get(1).is("IN");
        for (SqlWords.Word word :
                fits ? words.subList(2, words.size()) : List.<SqlWords.Word>of()) {
            if (word.kind() != SqlWords.Kind.LITERAL) {
                values.clear();
                return;
            }
            String literal = text.substring(word.start(), word.end());
            values.add(
                    literal.startsWith("'")
                            ? literal.substring(1, literal.length() - 1).replace("''", "'")
                            : new BigDecimal(literal));
        }
    }
}
