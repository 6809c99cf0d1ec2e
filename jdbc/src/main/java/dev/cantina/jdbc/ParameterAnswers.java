package dev.cantina.jdbc;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.embedded.JavaTypes;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import dev.cantina.workbench.WrittenCall;
import java.lang.reflect.Method;
import java.sql.ParameterMetaData;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What is known of the markers of a call. */
final class ParameterAnswers extends Answers<ParameterMetaData> {
    private record Marker(SqlType type, int mode) {}

    private final List<Marker> markers = new ArrayList<>();

    ParameterAnswers(RoutineSymbol routine, WrittenCall call) {
        super(ParameterMetaData.class);
        if (call.gives()) {
            SqlType type = routine.returns().orElse(SqlType.NULL);
            markers.add(new Marker(type, ParameterMetaData.parameterModeOut));
        }
        List<Optional<WrittenCall.Argument>> matched = call.matched(routine);
        for (int number = markers.size() + 1; number <= call.markers(); number++) {
            for (int i = 0; i < matched.size(); i++) {
                int wanted = number;
                if (matched.get(i).filter(a -> a.marker() == wanted).isPresent()) {
                    markers.add(marker(routine.parameters().get(i)));
                }
            }
        }
    }

    private static Marker marker(ParameterSymbol parameter) {
        return new Marker(
                parameter.type(),
                parameter.mode() == Unit.Mode.IN
                        ? ParameterMetaData.parameterModeIn
                        : parameter.mode() == Unit.Mode.OUT
                                ? ParameterMetaData.parameterModeOut
                                : ParameterMetaData.parameterModeInOut);
    }

    @Override
    Object answer(String name, Method method, Object[] arguments) throws SQLException {
        if (name.equals("getParameterCount")) {
            return markers.size();
        }
        int number = (Integer) arguments[0];
        if (number < 1 || number > markers.size()) {
            throw Failures.of("07009", "the call has " + markers.size() + " markers");
        }
        Marker marker = markers.get(number - 1);
        return switch (name) {
            case "getParameterMode" -> marker.mode;
            case "getParameterType" -> ResultAnswers.jdbcType(marker.type);
            case "getParameterTypeName" -> marker.type.sql();
            case "getParameterClassName" -> JavaTypes.of(marker.type).getName();
            case "getPrecision" -> JavaTypes.precision(marker.type);
            case "getScale" -> JavaTypes.scale(marker.type);
            case "isNullable" -> ParameterMetaData.parameterNullable;
            case "isSigned" -> marker.type.isNumeric();
            default -> throw Failures.of("0A000", name + " is not known of a marker");
        };
    }
}
