package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.database.ServerNames;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/**
 * What a routine's variables are called on MariaDB. A variable wins over a column of its name
 * there, and has no qualifier; so one that a column of the routine's own statements is called
 * after, or that another of its name hides, gets another name.
 */
final class MariaNames {
    private final ServerNames names = ServerNames.mariadb();
    private final Map<Integer, String> changed = new HashMap<>();

    /** The routine's own tables as they are spelled, by their keys. */
    private final Map<String, String> tables = new HashMap<>();

    Map<String, String> tables() {
        return tables;
    }

    MariaNames(BoundRoutine routine) {
        Walker.statements(
                routine.body(),
                s -> {
                    if (s instanceof BoundStatement.Block block) {
                        block.tables().forEach(t -> tables.put(t.table().key(), t.table().name()));
                    }
                });
        Set<String> columns = columns(routine);
        columns.addAll(shared(routine));
        Map<String, Integer> seen = new HashMap<>();
        Map<String, String> first = new HashMap<>();
        Set<String> qualified = qualified(routine);
        for (Variable variable : routine.variables()) {
            if (variable.isHidden()
                    || variable.kind() == Variable.Kind.OLD_ROW
                    || variable.kind() == Variable.Kind.NEW_ROW) {
                continue;
            }
            String key = variable.name().toUpperCase(Locale.ROOT);
            int times = seen.merge(key, 1, Integer::sum);
            first.putIfAbsent(key, exact(variable));
            if (columns.contains(key)) {
                String prefix = variable.kind().isParameter() ? "p_" : "v_";
                changed.put(variable.slot(), prefix + variable.name() + (times > 1 ? times : ""));
            } else if (times > 1
                    && (qualified.contains(key) || !first.get(key).equals(exact(variable)))) {
                changed.put(variable.slot(), variable.name() + "_" + times);
            }
        }
    }

    /** The name as it tells variables apart: case counts in quotes alone. */
    private static String exact(Variable variable) {
        boolean delimited = variable.span() != null && variable.span().text().startsWith("\"");
        return delimited ? variable.name() : variable.name().toUpperCase(Locale.ROOT);
    }

    String of(Variable variable) {
        return names.of(changed.getOrDefault(variable.slot(), variable.name()));
    }

    boolean isChanged(Variable variable) {
        return changed.containsKey(variable.slot());
    }

    /** All SQL of a routine. */
    static List<BoundSql> statements(BoundRoutine routine) {
        List<BoundSql> all = new ArrayList<>();
        Walker.statements(
                routine.body(),
                s -> {
                    Walker.sql(s).ifPresent(all::add);
                    if (s instanceof BoundStatement.Block block) {
                        for (CursorSymbol cursor : block.cursors()) {
                            cursor.query().ifPresent(all::add);
                        }
                    }
                    Walker.expressions(
                            s,
                            e -> {
                                if (e instanceof BoundExpression.DatabaseExpression ask) {
                                    all.add(ask.sql());
                                }
                            });
                });
        return all;
    }

    /** What the names of columns are, and of the tables that qualify them. */
    static Set<String> columns(BoundRoutine routine) {
        Set<String> columns = new HashSet<>();
        for (BoundSql sql : statements(routine)) {
            List<Span> values = new ArrayList<>();
            sql.parameters().forEach(p -> values.add(p.span()));
            collect(sql.source().scope(), values, columns);
        }
        return columns;
    }

    private static void collect(SqlText.Scope scope, List<Span> values, Set<String> columns) {
        for (SqlText.NameUse use : scope.names()) {
            boolean value =
                    values.stream()
                            .anyMatch(
                                    v ->
                                            v.start() <= use.span().start()
                                                    && use.span().end() <= v.end());
            if (!value && use.use() == SqlText.Use.VALUE) {
                // Case never counts for the names of columns and variables there.
                columns.add(use.names().get(0).text().toUpperCase(Locale.ROOT));
            }
        }
        scope.children().forEach(child -> collect(child, values, columns));
    }

    /** The variables of modules that a routine reads or sets, which a local one would hide. */
    private static Set<String> shared(BoundRoutine routine) {
        Set<String> found = new HashSet<>();
        Walker.statements(
                routine.body(),
                s -> {
                    Walker.expressions(
                            s,
                            e -> {
                                if (e instanceof BoundExpression.ReadShared read) {
                                    found.add(name(read.module(), read.index()));
                                }
                            });
                    if (s instanceof BoundStatement.Assign assign) {
                        for (BoundStatement.Assignment one : assign.assignments()) {
                            if (one.target() instanceof BoundStatement.Target.OfModule target) {
                                found.add(name(target.module(), target.index()));
                            }
                        }
                    }
                });
        return found;
    }

    private static String name(ModuleSymbol module, int index) {
        return module.variables().get(index).name().text().toUpperCase(Locale.ROOT);
    }

    /** Names that are said with their block or routine somewhere. */
    private static Set<String> qualified(BoundRoutine routine) {
        Set<String> found = new HashSet<>();
        Walker.statements(
                routine.body(),
                s ->
                        Walker.expressions(
                                s,
                                e -> {
                                    if (e instanceof BoundExpression.Read read
                                            && read.span().text().contains(".")) {
                                        found.add(read.variable().name().toUpperCase(Locale.ROOT));
                                    }
                                }));
        return found;
    }
}
