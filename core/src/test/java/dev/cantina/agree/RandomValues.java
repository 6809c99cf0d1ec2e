package dev.cantina.agree;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;

/**
 * Values that nobody wrote: expressions over variables and columns of every type that all servers
 * have, at the edges of what each holds, in each place where a value may stand. Every one is worked
 * out in a block of its own, which reports it or the state that it ended in.
 */
final class RandomValues implements Cells {
    /** The types, each with what its variables begin with. */
    private enum Kind {
        SMALL("SMALLINT", "0", "7", "-1", "32767", "-32768"),
        INT("INTEGER", "0", "1", "-7", "100", "2147483647", "-2147483648"),
        BIG("BIGINT", "0", "3", "-12", "9223372036854775807", "-9223372036854775807"),
        CENTS("DECIMAL(5, 2)", "0", "2.50", "-0.01", "999.99", "-7.05", "10"),
        FINE("DECIMAL(20, 10)", "0", "0.5", "-1.0000000001", "1234567890.0987654321", "2.5"),
        ROUND("DECIMAL(18, 0)", "0", "5", "-3", "999999999999999999"),
        DOUBLE("DOUBLE PRECISION", "0E0", "0.1E0", "-2.5E0", "3E0", "1E10", "1E-7", "123456.789E0"),
        CODE("CHAR(5)", "''", "'a'", "'Abc'", "'12'", "' x'", "'exact'"),
        LETTER("CHAR(1)", "'a'", "'B'", "'c'", "'é'"),
        SHORT("VARCHAR(3)", "''", "'a'", "'A '", "'12'", "'%_'", "'  '"),
        LONG("VARCHAR(40)", "''", "'Größe'", "'a''b'", "'-3.50'", "'  pad  '", "'a%b_c'", "'12'"),
        TRUTH("BOOLEAN", "TRUE", "FALSE", "NULL"),
        DAY("DATE", "DATE '2028-02-29'", "DATE '1999-12-31'", "DATE '2031-01-31'"),
        CLOCK("TIME(0)", "TIME '00:00:00'", "TIME '23:59:59'", "TIME '12:30:01'"),
        MOMENT(
                "TIMESTAMP(0)",
                "TIMESTAMP '2031-12-31 23:59:59'",
                "TIMESTAMP '2028-02-29 00:00:00'"),
        FINE_MOMENT(
                "TIMESTAMP(6)",
                "TIMESTAMP '2031-01-31 12:00:00.123456'",
                "TIMESTAMP '1999-12-31 23:59:59.999999'"),
        BYTES("VARBINARY(4)", "X''", "X'00'", "X'4142'", "X'FF000102'");

        final String sql;
        final String[] values;

        Kind(String sql, String... values) {
            this.sql = sql;
            this.values = values;
        }
    }

    private static final List<Kind> NUMBERS =
            List.of(Kind.SMALL, Kind.INT, Kind.BIG, Kind.CENTS, Kind.FINE, Kind.ROUND, Kind.DOUBLE);
    private static final List<Kind> WHOLES = List.of(Kind.SMALL, Kind.INT, Kind.BIG);
    private static final List<Kind> TEXTS = List.of(Kind.CODE, Kind.LETTER, Kind.SHORT, Kind.LONG);
    private static final List<Kind> MOMENTS =
            List.of(Kind.DAY, Kind.CLOCK, Kind.MOMENT, Kind.FINE_MOMENT);

    private static final String COLUMNS = columns();

    /** One row of values, one of NULLs, and a table with a row to write to. */
    static final String TABLES =
            "CREATE TABLE v (id INTEGER PRIMARY KEY"
                    + COLUMNS
                    + ");\n"
                    + "CREATE TABLE w (id INTEGER PRIMARY KEY"
                    + COLUMNS
                    + ");\n";

    private static String columns() {
        StringBuilder columns = new StringBuilder();
        for (Kind kind : Kind.values()) {
            columns.append(", ").append(column(kind)).append(' ').append(kind.sql);
        }
        return columns.toString();
    }

    private static String column(Kind kind) {
        return "c_" + kind.name().toLowerCase(Locale.ROOT);
    }

    private final Random random;
    private final List<Cell> cells = new ArrayList<>();
    private final String rows;
    private final String head;
    private boolean inQuery;

    RandomValues(long seed, int count) {
        random = new Random(seed);
        rows = row(1, true) + row(2, false) + "INSERT INTO w (id) VALUES (1);\n";
        StringBuilder head = new StringBuilder();
        for (Kind kind : Kind.values()) {
            head.append("CREATE FUNCTION same_")
                    .append(kind.name())
                    .append(" (a ")
                    .append(kind.sql);
            head.append(") RETURNS ").append(kind.sql).append(" RETURN a;\n");
        }
        head.append("CREATE PROCEDURE p ()\nBEGIN\n");
        for (Kind kind : Kind.values()) {
            for (String name : List.of("a_", "b_")) {
                head.append("  DECLARE ").append(name).append(kind.name()).append(' ');
                head.append(kind.sql).append(" DEFAULT ").append(initial(kind)).append(";\n");
            }
        }
        this.head = head.toString();
        for (int i = 1; i <= count; i++) {
            cells.add(new Cell(i, cell(i)));
        }
    }

    @Override
    public String tables() {
        return TABLES;
    }

    @Override
    public String rows() {
        return rows;
    }

    @Override
    public List<Cell> cells() {
        return cells;
    }

    @Override
    public String program(List<Cell> some) {
        StringBuilder text = new StringBuilder(head);
        some.forEach(c -> text.append(c.text()));
        return text.append("END;\n").toString();
    }

    private String row(int id, boolean values) {
        StringBuilder row = new StringBuilder("INSERT INTO v VALUES (" + id);
        for (Kind kind : Kind.values()) {
            row.append(", ").append(values ? one(kind.values) : "NULL");
        }
        return row.append(");\n").toString();
    }

    private String initial(Kind kind) {
        return chance(12) ? "NULL" : one(kind.values);
    }

    private boolean chance(int percent) {
        return random.nextInt(100) < percent;
    }

    private String one(String... of) {
        return of[random.nextInt(of.length)];
    }

    private <T> T one(List<T> of) {
        return of.get(random.nextInt(of.size()));
    }

    // ---------------------------------------------------------------- places

    private String cell(int number) {
        Kind kind = one(List.of(Kind.values()));
        String mark = "'" + number + ": '";
        int place = random.nextInt(17);
        inQuery = place >= 6;
        String value = inQuery || chance(75) ? value(kind, 3) : value(near(kind), 2);
        String work =
                switch (place) {
                    case 0, 1 -> "SET r = " + value + ";";
                    case 2 -> "REPORT " + mark + ", " + value + ";";
                    case 3 -> "SET r = same_" + kind.name() + "(" + value + ");";
                    case 4, 5 -> decided(mark);
                    case 6, 7 -> "SELECT " + value + " INTO r FROM v WHERE id = 1;";
                    case 8 -> "SELECT " + value + " INTO r FROM v WHERE id = 2;";
                    case 9 ->
                            "UPDATE w SET "
                                    + column(kind)
                                    + " = "
                                    + value
                                    + "; SELECT "
                                    + column(kind)
                                    + " INTO r FROM w;";
                    case 10 ->
                            "SELECT same_"
                                    + kind.name()
                                    + "("
                                    + value
                                    + ") INTO r FROM v WHERE id = 1;";
                    case 11 ->
                            "INSERT INTO w (id, "
                                    + column(kind)
                                    + ") VALUES (9, "
                                    + value
                                    + "); SELECT "
                                    + column(kind)
                                    + " INTO r FROM w WHERE id = 9; DELETE FROM w WHERE id = 9;";
                    case 12 ->
                            "FOR f AS SELECT "
                                    + value
                                    + " AS x FROM v WHERE id = 1 DO SET r = f.x; END FOR;";
                    case 13 ->
                            "SET r = (SELECT "
                                    + value
                                    + " FROM v WHERE id = "
                                    + one("1", "2")
                                    + ");";
                    case 14 ->
                            "BEGIN DECLARE c CURSOR FOR SELECT "
                                    + value
                                    + " FROM v WHERE id = 1; OPEN c; FETCH c INTO r; CLOSE c; END;";
                    default ->
                            "SELECT COUNT(*) INTO k FROM v WHERE "
                                    + test()
                                    + "; REPORT "
                                    + mark
                                    + ", k;";
                };
        return "  BEGIN\n    DECLARE r "
                + kind.sql
                + "; DECLARE k INTEGER; DECLARE st VARCHAR(5);\n"
                + "    DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN GET DIAGNOSTICS CONDITION 1 st ="
                + " RETURNED_SQLSTATE; REPORT "
                + mark
                + ", '!', st; END;\n    "
                + work
                + "\n"
                + (work.contains("REPORT") ? "" : "    REPORT " + mark + ", '[', r, ']';\n")
                + "  END;\n";
    }

    private String decided(String mark) {
        String test = test();
        return "REPORT "
                + mark
                + ", CASE WHEN "
                + test
                + " THEN 'yes' WHEN NOT ("
                + test
                + ") THEN 'no' ELSE 'unknown' END;";
    }

    private Kind near(Kind kind) {
        if (NUMBERS.contains(kind)) {
            return chance(80) ? one(NUMBERS) : one(TEXTS);
        }
        if (TEXTS.contains(kind)) {
            return one(List.of(Kind.values()));
        }
        return MOMENTS.contains(kind) ? one(MOMENTS) : kind;
    }

    // ---------------------------------------------------------------- values

    private String read(Kind kind) {
        // A CHAR column loses its blanks on the way to a function.
        boolean fixed = kind == Kind.CODE || kind == Kind.LETTER;
        if (inQuery && !fixed && chance(40)) {
            return column(kind);
        }
        return chance(75) ? one("a_", "b_") + kind.name() : one(kind.values);
    }

    private String value(Kind kind, int depth) {
        if (depth == 0 || chance(15)) {
            return read(kind);
        }
        if (chance(12)) {
            return common(kind, depth - 1);
        }
        return switch (kind) {
            case SMALL, INT, BIG -> whole(depth - 1);
            case CENTS, FINE, ROUND, DOUBLE -> number(depth - 1);
            case CODE, LETTER, SHORT, LONG -> words(depth - 1);
            case TRUTH -> chance(50) ? read(kind) : "(" + test() + ")";
            case DAY -> day(depth - 1);
            case CLOCK -> clock(depth - 1);
            case MOMENT, FINE_MOMENT -> moment(depth - 1);
            case BYTES -> chance(50) ? read(kind) : read(kind) + " || " + read(kind);
        };
    }

    private String common(Kind kind, int depth) {
        Kind other =
                NUMBERS.contains(kind) ? one(NUMBERS) : TEXTS.contains(kind) ? one(TEXTS) : kind;
        String a = value(kind, depth);
        String b = value(other, depth);
        return switch (random.nextInt(6)) {
            case 0 -> "COALESCE(" + a + ", " + b + ")";
            case 1 -> "NULLIF(" + a + ", " + b + ")";
            case 2 -> "CASE WHEN " + test() + " THEN " + a + " ELSE " + b + " END";
            case 3 ->
                    "CASE "
                            + read(kind)
                            + " WHEN "
                            + a
                            + " THEN "
                            + b
                            + " WHEN "
                            + read(kind)
                            + " THEN "
                            + read(kind)
                            + " END";
            case 4 ->
                    kind == Kind.TRUTH || kind == Kind.BYTES
                            ? "COALESCE(NULL, " + a + ")"
                            : one("GREATEST", "LEAST") + "(" + a + ", " + b + ")";
            default -> "CAST(" + b + " AS " + kind.sql + ")";
        };
    }

    private String whole(int depth) {
        return switch (random.nextInt(12)) {
            case 0 -> "(" + small(depth) + " + " + small(depth) + ")";
            case 1 -> "(" + small(depth) + " - " + small(depth) + ")";
            case 2 -> "(" + small(depth) + " * " + small(depth) + ")";
            case 3 -> "(" + small(depth) + " / " + small(depth) + ")";
            case 4 -> "MOD(" + small(depth) + ", " + small(depth) + ")";
            case 5 -> one("CHAR_LENGTH", "OCTET_LENGTH") + "(" + value(one(TEXTS), depth) + ")";
            case 6 -> "POSITION(" + value(one(TEXTS), 0) + " IN " + value(one(TEXTS), depth) + ")";
            case 7 ->
                    "EXTRACT("
                            + one("YEAR", "MONTH", "DAY")
                            + " FROM "
                            + value(one(List.of(Kind.DAY, Kind.MOMENT)), depth)
                            + ")";
            case 8 ->
                    "EXTRACT("
                            + one("HOUR", "MINUTE", "SECOND")
                            + " FROM "
                            + value(one(List.of(Kind.CLOCK, Kind.MOMENT)), depth)
                            + ")";
            case 9 ->
                    !inQuery && chance(30)
                            ? "CAST(("
                                    + value(Kind.DAY, depth)
                                    + " - "
                                    + value(Kind.DAY, 0)
                                    + ") DAY AS INTEGER)"
                            : one("ABS", "SIGN", "-", "+") + "(" + value(one(NUMBERS), depth) + ")";
            case 10 -> "CAST(" + value(near(Kind.CENTS), depth) + " AS " + one(WHOLES).sql + ")";
            default ->
                    one("FLOOR", "CEILING", "ROUND", inQuery ? "FLOOR" : "TRUNCATE")
                            + "("
                            + value(one(NUMBERS), depth)
                            + ")";
        };
    }

    private String small(int depth) {
        return value(one(WHOLES), depth);
    }

    private String number(int depth) {
        String a = value(one(NUMBERS), depth);
        String b = value(one(NUMBERS), depth);
        return switch (random.nextInt(12)) {
            case 0 -> "(" + a + " + " + b + ")";
            case 1 -> "(" + a + " - " + b + ")";
            case 2 -> "(" + a + " * " + b + ")";
            case 3 -> "CAST(" + a + " / " + b + " AS DECIMAL(12, 4))";
            case 4 -> "MOD(" + read(Kind.FINE) + ", " + read(Kind.CENTS) + ")";
            case 5 -> one("ROUND", "TRUNCATE") + "(" + a + ", " + one("0", "1", "-1", "4") + ")";
            case 6 -> one("FLOOR", "CEILING", "ABS", "SIGN") + "(" + a + ")";
            case 7 -> "CAST(" + a + " AS " + one(NUMBERS).sql + ")";
            case 8 -> "CAST(" + value(one(TEXTS), depth) + " AS " + one(NUMBERS).sql + ")";
            case 9 ->
                    inQuery
                            ? read(Kind.FINE)
                            : "ROUND(" + one("SQRT", "LN", "LOG10") + "(" + b + "), 4)";
            case 10 ->
                    inQuery
                            ? read(Kind.ROUND)
                            : "ROUND(POWER("
                                    + read(one(NUMBERS))
                                    + ", "
                                    + one("2", "0.5", "-1")
                                    + "), 4)";
            default -> one("-", "+", inQuery ? "+" : "- -") + read(one(NUMBERS));
        };
    }

    private String words(int depth) {
        String a = value(one(TEXTS), depth);
        String b = value(one(TEXTS), Math.min(1, depth));
        String place = one("1", "2", "0", "-1", "4", "a_SMALL");
        return switch (random.nextInt(15)) {
            case 0, 1 -> a + " || " + b;
            case 2 -> "SUBSTRING(" + a + " FROM " + (inQuery ? one("1", "2") : place) + ")";
            case 3 ->
                    "SUBSTRING("
                            + a
                            + " FROM "
                            + (inQuery ? one("1", "2") : place)
                            + " FOR "
                            + one("0", "1", "2", "3", inQuery ? "2" : "b_INT")
                            + ")";
            case 4 -> one("UPPER", "LOWER") + "(" + a + ")";
            case 5 -> "TRIM(" + a + ")";
            case 6 ->
                    "TRIM("
                            + one("LEADING", "TRAILING", "BOTH")
                            + " "
                            + one("' '", "'a'", "a_LETTER")
                            + " FROM "
                            + a
                            + ")";
            case 7 -> one("LTRIM", "RTRIM") + "(" + a + ")";
            case 8 ->
                    one("LPAD", "RPAD")
                            + "("
                            + a
                            + ", "
                            + one("3", "8", inQuery ? "3" : "a_SMALL", inQuery ? "8" : "0")
                            + one(
                                    ", '*'",
                                    ", 'xy'",
                                    inQuery ? ", 'x'" : ", ''",
                                    inQuery ? ", ' '" : "")
                            + ")";
            case 9 ->
                    inQuery
                            ? read(Kind.LONG)
                            : "OVERLAY("
                                    + a
                                    + " PLACING "
                                    + b
                                    + " FROM "
                                    + one("1", "2", "9")
                                    + one("", " FOR 0", " FOR 2")
                                    + ")";
            case 10 -> "REPLACE(" + a + ", " + b + ", " + read(Kind.SHORT) + ")";
            case 11 ->
                    "CAST("
                            + value(one(NUMBERS), depth)
                            + " AS "
                            + one("VARCHAR(30)", "CHAR(12)", "VARCHAR(3)")
                            + ")";
            case 12 -> "CAST(" + value(one(MOMENTS), depth) + " AS VARCHAR(30))";
            case 13 -> "CAST(" + a + " AS " + one(TEXTS).sql + ")";
            default -> a + " || " + value(one(MOMENTS), 0);
        };
    }

    private String day(int depth) {
        return switch (random.nextInt(5)) {
            case 0, 1 ->
                    value(Kind.DAY, depth)
                            + one(" + ", " - ")
                            + "INTERVAL '"
                            + one("1", "30", "12", "-1")
                            + "' "
                            + one("DAY", "MONTH", "YEAR");
            case 2 -> "CAST(" + value(Kind.MOMENT, depth) + " AS DATE)";
            case 3 -> "CAST(" + one("'2031-05-06'", "a_LONG", "' 2031-05-06 '") + " AS DATE)";
            default -> read(Kind.DAY);
        };
    }

    private String clock(int depth) {
        // In a data statement it goes round on PostgreSQL alone.
        return switch (inQuery ? 2 : random.nextInt(4)) {
            case 0, 1 ->
                    value(Kind.CLOCK, depth)
                            + one(" + ", " - ")
                            + "INTERVAL '"
                            + one("1", "30")
                            + "' "
                            + one("HOUR", "MINUTE", "SECOND");
            case 2 -> "CAST(" + read(Kind.MOMENT) + " AS TIME(0))";
            default -> read(Kind.CLOCK);
        };
    }

    private String moment(int depth) {
        return switch (random.nextInt(5)) {
            case 0, 1 ->
                    value(one(List.of(Kind.MOMENT, Kind.FINE_MOMENT)), depth)
                            + one(" + ", " - ")
                            + "INTERVAL '"
                            + one("1", "45")
                            + "' "
                            + one("DAY", "MONTH", "HOUR", "SECOND");
            case 2 -> "CAST(" + value(Kind.DAY, depth) + " AS TIMESTAMP(0))";
            case 3 ->
                    "CAST("
                            + value(Kind.FINE_MOMENT, depth)
                            + " AS TIMESTAMP("
                            + one("0", "3", "6")
                            + "))";
            default -> read(one(List.of(Kind.MOMENT, Kind.FINE_MOMENT)));
        };
    }

    private String test() {
        Kind kind = one(List.of(Kind.values()));
        Kind other =
                NUMBERS.contains(kind) ? one(NUMBERS) : TEXTS.contains(kind) ? one(TEXTS) : kind;
        String a = value(kind, 2);
        String b = value(other, 1);
        return switch (random.nextInt(10)) {
            case 0, 1, 2 -> a + " " + one("=", "<>", "<", "<=", ">", ">=") + " " + b;
            case 3 -> a + one(" ", " NOT ") + "BETWEEN " + read(kind) + " AND " + b;
            case 4 -> a + one(" ", " NOT ") + "IN (" + read(other) + ", " + b + ")";
            case 5 -> a + " IS" + one(" ", " NOT ") + "DISTINCT FROM " + b;
            case 6 -> "(" + a + ") IS" + one(" ", " NOT ") + "NULL";
            case 7 ->
                    value(one(TEXTS), 1)
                            + one(" ", " NOT ")
                            + "LIKE "
                            + one("'%a%'", "'_'", "'a%'", "'%'", "''", "'%\\_%'", "a_SHORT", "'A_'")
                            + one("", "", " ESCAPE '\\'", " ESCAPE '!'");
            case 8 -> "(" + read(Kind.TRUTH) + one(" AND ", " OR ") + read(kind) + " = " + b + ")";
            default ->
                    "("
                            + read(Kind.TRUTH)
                            + ") IS"
                            + one(" ", " NOT ")
                            + one("TRUE", "FALSE", "UNKNOWN");
        };
    }
}
