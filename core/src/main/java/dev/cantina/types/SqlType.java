package dev.cantina.types;

import java.util.List;
import java.util.stream.Collectors;

/**
 * A data type (ISO 9075-2, 4.1). Values are plain Java objects, {@code null} for NULL: {@code Long}
 * for the whole types, {@code BigDecimal} for the exact ones and DECFLOAT, {@code Double}, {@code
 * Boolean}, {@code String}, {@code byte[]}, the classes of {@code java.time}, {@link
 * IntervalValue}, {@code UUID}, and {@code Object[]} for arrays and rows.
 */
public sealed interface SqlType {
    /** How a value travels in compiled code. */
    enum Carrier {
        /** A {@code long} and a flag for NULL. */
        LONG,
        /** A {@code double} and a flag for NULL. */
        APPROXIMATE,
        /** An {@code int}: 0 false, 1 true, 2 unknown. */
        TRI_STATE,
        /** A reference, {@code null} for NULL. */
        OBJECT
    }

    /** The type as it is written in SQL. */
    String sql();

    default Carrier carrier() {
        return Carrier.OBJECT;
    }

    default boolean isNumeric() {
        return false;
    }

    /** The whole numbers. */
    enum Whole {
        SMALLINT,
        INTEGER,
        BIGINT
    }

    /** SMALLINT, INTEGER or BIGINT. */
    record Integral(Whole size) implements SqlType {
        @Override
        public String sql() {
            return size.name();
        }

        @Override
        public Carrier carrier() {
            return Carrier.LONG;
        }

        @Override
        public boolean isNumeric() {
            return true;
        }
    }

    /** NUMERIC or DECIMAL; a precision of 0 stands for one without bound. */
    record Exact(int precision, int scale) implements SqlType {
        @Override
        public String sql() {
            return precision == 0 ? "DECIMAL" : "DECIMAL(" + precision + ", " + scale + ")";
        }

        @Override
        public boolean isNumeric() {
            return true;
        }
    }

    /** REAL or DOUBLE PRECISION. */
    record Approximate(boolean single) implements SqlType {
        @Override
        public String sql() {
            return single ? "REAL" : "DOUBLE PRECISION";
        }

        @Override
        public Carrier carrier() {
            return Carrier.APPROXIMATE;
        }

        @Override
        public boolean isNumeric() {
            return true;
        }
    }

    /** DECFLOAT with a number of decimal digits. */
    record DecFloat(int precision) implements SqlType {
        @Override
        public String sql() {
            return "DECFLOAT(" + precision + ")";
        }

        @Override
        public boolean isNumeric() {
            return true;
        }
    }

    record Bool() implements SqlType {
        @Override
        public String sql() {
            return "BOOLEAN";
        }

        @Override
        public Carrier carrier() {
            return Carrier.TRI_STATE;
        }
    }

    /** The shape of a text or of bytes. */
    enum Shape {
        FIXED,
        VARYING,
        LARGE
    }

    /** CHAR, VARCHAR or CLOB; lengths count characters, 0 stands for no bound. */
    record Text(Shape shape, int length) implements SqlType {
        @Override
        public String sql() {
            String name =
                    switch (shape) {
                        case FIXED -> "CHAR";
                        case VARYING -> "VARCHAR";
                        case LARGE -> "CLOB";
                    };
            return length == 0 ? name : name + "(" + length + ")";
        }
    }

    /** BINARY, VARBINARY or BLOB; lengths count octets, 0 stands for no bound. */
    record Bytes(Shape shape, int length) implements SqlType {
        @Override
        public String sql() {
            String name =
                    switch (shape) {
                        case FIXED -> "BINARY";
                        case VARYING -> "VARBINARY";
                        case LARGE -> "BLOB";
                    };
            return length == 0 ? name : name + "(" + length + ")";
        }
    }

    record Date() implements SqlType {
        @Override
        public String sql() {
            return "DATE";
        }
    }

    /** TIME with digits after the second. */
    record Time(int precision, boolean zone) implements SqlType {
        @Override
        public String sql() {
            return "TIME(" + precision + ")" + (zone ? " WITH TIME ZONE" : "");
        }
    }

    /** TIMESTAMP with digits after the second. */
    record Timestamp(int precision, boolean zone) implements SqlType {
        @Override
        public String sql() {
            return "TIMESTAMP(" + precision + ")" + (zone ? " WITH TIME ZONE" : "");
        }
    }

    /** INTERVAL with its fields, such as {@code DAY TO SECOND}. */
    record Interval(String fields) implements SqlType {
        @Override
        public String sql() {
            return "INTERVAL " + fields;
        }
    }

    record Uuid() implements SqlType {
        @Override
        public String sql() {
            return "UUID";
        }
    }

    record Json() implements SqlType {
        @Override
        public String sql() {
            return "JSON";
        }
    }

    /** {@code element ARRAY[maximum]}; 0 stands for no bound. */
    record Array(SqlType element, int maximum) implements SqlType {
        @Override
        public String sql() {
            return element.sql() + " ARRAY" + (maximum == 0 ? "" : "[" + maximum + "]");
        }
    }

    record Row(List<Field> fields) implements SqlType {
        @Override
        public String sql() {
            return fields.stream()
                    .map(field -> field.name() + " " + field.type().sql())
                    .collect(Collectors.joining(", ", "ROW(", ")"));
        }
    }

    /** What a function gives that gives rows. */
    record Table(List<Field> columns) implements SqlType {
        @Override
        public String sql() {
            return columns.stream()
                    .map(column -> column.name() + " " + column.type().sql())
                    .collect(Collectors.joining(", ", "TABLE (", ")"));
        }
    }

    /** A field of a row type, named as its author wrote it. */
    record Field(String name, SqlType type) {}

    /** The type of a bare NULL, and of what only the database knows. */
    record Unknown() implements SqlType {
        @Override
        public String sql() {
            return "NULL";
        }
    }

    SqlType SMALLINT = new Integral(Whole.SMALLINT);
    SqlType INTEGER = new Integral(Whole.INTEGER);
    SqlType BIGINT = new Integral(Whole.BIGINT);
    SqlType DECIMAL = new Exact(0, 0);
    SqlType DOUBLE = new Approximate(false);
    SqlType BOOLEAN = new Bool();
    SqlType VARCHAR = new Text(Shape.VARYING, 0);
    SqlType DATE = new Date();
    SqlType TIME = new Time(0, false);
    SqlType TIMESTAMP = new Timestamp(6, false);
    SqlType NULL = new Unknown();
}
