package dev.cantina.jdbc;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.embedded.JavaTypes;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.lang.reflect.Method;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.Types;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import org.h2.tools.SimpleResultSet;

/** What a program can learn of a project: its routines, and all that the database tells. */
final class MetaDataAnswers extends Answers<DatabaseMetaData> {
    private final ConnectionAnswers connection;
    private final DatabaseMetaData real;

    MetaDataAnswers(ConnectionAnswers connection, DatabaseMetaData real) {
        super(DatabaseMetaData.class);
        this.connection = connection;
        this.real = real;
    }

    @Override
    Object answer(String name, Method method, Object[] arguments) throws Throwable {
        switch (name) {
            case "getConnection":
                return connection.proxy();
            case "getURL":
                return connection.url();
            case "getDriverName":
                return CantinaDriver.NAME;
            case "getDriverVersion":
                return CantinaDriver.MAJOR + "." + CantinaDriver.MINOR;
            case "getDriverMajorVersion":
                return CantinaDriver.MAJOR;
            case "getDriverMinorVersion":
                return CantinaDriver.MINOR;
            case "getDatabaseProductName":
                return "Cantina on " + real.getDatabaseProductName();
            case "supportsStoredProcedures",
            "supportsStoredFunctionsUsingCallSyntax",
            "supportsNamedParameters",
            "supportsSavepoints",
            "supportsMultipleResultSets":
                return true;
            case "getProcedures":
                return procedures((String) arguments[2]);
            case "getProcedureColumns":
                return parameters((String) arguments[2], (String) arguments[3], false);
            case "getFunctions":
                return functions((String) arguments[2]);
            case "getFunctionColumns":
                return parameters((String) arguments[2], (String) arguments[3], true);
            default:
                return handOn(real, method, arguments);
        }
    }

    private List<RoutineSymbol> routines(String pattern, boolean function) {
        return connection.program().workspace().catalog().routines().stream()
                .filter(r -> r.isPublic() && r.isFunction() == function)
                .filter(r -> fits(r.name(), pattern))
                .sorted(Comparator.comparing(r -> r.name().toUpperCase(Locale.ROOT)))
                .toList();
    }

    /** A pattern of LIKE, in whatever case; null for all. */
    private static boolean fits(String name, String pattern) {
        if (pattern == null) {
            return true;
        }
        StringBuilder like = new StringBuilder();
        for (int i = 0; i < pattern.length(); i++) {
            char c = pattern.charAt(i);
            if (c == '\\' && i + 1 < pattern.length()) {
                like.append(Pattern.quote(String.valueOf(pattern.charAt(++i))));
            } else {
                like.append(c == '%' ? ".*" : c == '_' ? "." : Pattern.quote(String.valueOf(c)));
            }
        }
        return Pattern.compile(like.toString(), Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE)
                .matcher(name)
                .matches();
    }

    private static SimpleResultSet table(String... columns) {
        SimpleResultSet rows = new SimpleResultSet();
        for (String column : columns) {
            boolean number = column.startsWith("#");
            rows.addColumn(
                    number ? column.substring(1) : column,
                    number ? Types.INTEGER : Types.VARCHAR,
                    0,
                    0);
        }
        return rows;
    }

    private ResultSet procedures(String pattern) {
        SimpleResultSet rows =
                table(
                        "PROCEDURE_CAT",
                        "PROCEDURE_SCHEM",
                        "PROCEDURE_NAME",
                        "RESERVED1",
                        "RESERVED2",
                        "RESERVED3",
                        "REMARKS",
                        "#PROCEDURE_TYPE",
                        "SPECIFIC_NAME");
        for (RoutineSymbol routine : routines(pattern, false)) {
            rows.addRow(
                    null,
                    null,
                    routine.name(),
                    null,
                    null,
                    null,
                    null,
                    DatabaseMetaData.procedureNoResult,
                    routine.signature());
        }
        return new ResultAnswers(rows, null, null).proxy();
    }

    private ResultSet functions(String pattern) {
        SimpleResultSet rows =
                table(
                        "FUNCTION_CAT",
                        "FUNCTION_SCHEM",
                        "FUNCTION_NAME",
                        "REMARKS",
                        "#FUNCTION_TYPE",
                        "SPECIFIC_NAME");
        for (RoutineSymbol routine : routines(pattern, true)) {
            boolean table = routine.returns().filter(SqlType.Table.class::isInstance).isPresent();
            rows.addRow(
                    null,
                    null,
                    routine.name(),
                    null,
                    table
                            ? DatabaseMetaData.functionReturnsTable
                            : DatabaseMetaData.functionNoTable,
                    routine.signature());
        }
        return new ResultAnswers(rows, null, null).proxy();
    }

    /** A parameter, or what a function gives. */
    private record Line(String name, int kind, SqlType type, int position, String initial) {}

    private ResultSet parameters(String pattern, String parameter, boolean function) {
        String what = function ? "FUNCTION" : "PROCEDURE";
        SimpleResultSet rows =
                table(
                        what + "_CAT",
                        what + "_SCHEM",
                        what + "_NAME",
                        "COLUMN_NAME",
                        "#COLUMN_TYPE",
                        "#DATA_TYPE",
                        "TYPE_NAME",
                        "#PRECISION",
                        "#LENGTH",
                        "#SCALE",
                        "#RADIX",
                        "#NULLABLE",
                        "REMARKS",
                        "COLUMN_DEF",
                        "#SQL_DATA_TYPE",
                        "#SQL_DATETIME_SUB",
                        "#CHAR_OCTET_LENGTH",
                        "#ORDINAL_POSITION",
                        "IS_NULLABLE",
                        "SPECIFIC_NAME");
        for (RoutineSymbol routine : routines(pattern, function)) {
            for (Line line : lines(routine)) {
                if (fits(line.name, parameter)) {
                    rows.addRow(
                            null,
                            null,
                            routine.name(),
                            line.name,
                            line.kind,
                            ResultAnswers.jdbcType(line.type),
                            line.type.sql(),
                            JavaTypes.precision(line.type),
                            JavaTypes.precision(line.type),
                            JavaTypes.scale(line.type),
                            10,
                            DatabaseMetaData.procedureNullable,
                            null,
                            line.initial,
                            null,
                            null,
                            null,
                            line.position,
                            "YES",
                            routine.signature());
                }
            }
        }
        return new ResultAnswers(rows, null, null).proxy();
    }

    private static List<Line> lines(RoutineSymbol routine) {
        List<Line> lines = new ArrayList<>();
        routine.returns()
                .filter(t -> !(t instanceof SqlType.Table))
                .ifPresent(
                        t -> lines.add(new Line("", DatabaseMetaData.functionReturn, t, 0, null)));
        for (ParameterSymbol parameter : routine.parameters()) {
            int kind =
                    parameter.mode() == Unit.Mode.IN
                            ? DatabaseMetaData.procedureColumnIn
                            : parameter.mode() == Unit.Mode.OUT
                                    ? DatabaseMetaData.procedureColumnOut
                                    : DatabaseMetaData.procedureColumnInOut;
            lines.add(
                    new Line(
                            parameter.name().text(),
                            kind,
                            parameter.type(),
                            lines.size()
                                    + (routine.returns().isPresent() && !lines.isEmpty() ? 0 : 1),
                            parameter.initial().map(e -> e.span().text()).orElse(null)));
        }
        return lines;
    }
}
