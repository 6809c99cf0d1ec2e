package dev.cantina.translate.postgresql;

import dev.cantina.database.ServerPart;
import dev.cantina.translate.ServerObject;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** The few functions that translated routines call for what PL/pgSQL has no words for. */
public final class PostgresSupport {
    private static final String ELEMENT =
            """
            CREATE OR REPLACE FUNCTION cantina.element (list anyarray, place bigint)
            RETURNS anyelement
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- An element of an array; 2202E where there is none.
            BEGIN
              IF list IS NULL OR place IS NULL THEN
                RETURN NULL;
              END IF;
              IF place NOT BETWEEN 1 AND cardinality(list) THEN
                RAISE EXCEPTION USING ERRCODE = '2202E',
                  MESSAGE = 'index ' || place || ' is outside the array of ' || cardinality(list);
              END IF;
              RETURN list[place::integer];
            END
            $body$""";
    private static final String PLACED =
            """
            CREATE OR REPLACE FUNCTION cantina.placed (
              list anycompatiblearray, place bigint, value anycompatible, most integer
            )
            RETURNS anycompatiblearray
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- An array with one element set; those before it that were not there are NULL.
            BEGIN
              IF list IS NULL THEN
                RAISE EXCEPTION USING ERRCODE = '2200E', MESSAGE = 'the array is NULL';
              END IF;
              IF place IS NULL THEN
                RAISE EXCEPTION USING ERRCODE = '22004', MESSAGE = 'the index is NULL';
              END IF;
              IF place < 1 OR most > 0 AND place > most THEN
                RAISE EXCEPTION USING ERRCODE = '2202E',
                  MESSAGE = 'index ' || place || ' is outside the array';
              END IF;
              list[place::integer] := value;
              RETURN list;
            END
            $body$""";
    private static final String FILLED =
            """
            CREATE OR REPLACE FUNCTION cantina.filled (statement text, VARIADIC given text[] DEFAULT '{}')
            RETURNS text
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- A statement with its markers filled in, each value as a literal.
            DECLARE
              filled text := '';
              quote text := '';
              one text;
              used integer := 0;
            BEGIN
              IF statement IS NULL THEN
                RAISE EXCEPTION USING ERRCODE = '26000', MESSAGE = 'there is no such prepared statement';
              END IF;
              FOREACH one IN ARRAY regexp_split_to_array(statement, '') LOOP
                IF one IN ('''', '"') AND quote IN ('', one) THEN
                  quote := CASE quote WHEN '' THEN one ELSE '' END;
                END IF;
                IF one = '?' AND quote = '' THEN
                  used := used + 1;
                  IF used > cardinality(given) THEN
                    RAISE EXCEPTION USING ERRCODE = '07001', MESSAGE = 'there are more markers than values';
                  END IF;
                  filled := filled || quote_nullable(given[used]);
                ELSE
                  filled := filled || one;
                END IF;
              END LOOP;
              IF used < cardinality(given) THEN
                RAISE EXCEPTION USING ERRCODE = '07001', MESSAGE = 'there are fewer markers than values';
              END IF;
              RETURN filled;
            END
            $body$""";
    private static final String START =
            """
            CREATE OR REPLACE FUNCTION cantina.start_transaction ()
            RETURNS void
            LANGUAGE plpgsql
            AS $body$
            -- START TRANSACTION: nothing to do where nothing was changed, 25001 where something was.
            BEGIN
              IF pg_current_xact_id_if_assigned() IS NOT NULL THEN
                RAISE EXCEPTION USING ERRCODE = '25001',
                  MESSAGE = 'START TRANSACTION where uncommitted changes stand';
              END IF;
            END
            $body$""";
    private static final String TRUTH =
            """
            CREATE OR REPLACE FUNCTION cantina.truth (value text)
            RETURNS boolean
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- CAST of a text to BOOLEAN, which takes the words of the literals alone.
            BEGIN
              CASE upper(btrim(value))
                WHEN 'TRUE' THEN RETURN true;
                WHEN 'FALSE' THEN RETURN false;
                ELSE
                  IF upper(btrim(value)) <> 'UNKNOWN' THEN
                    RAISE EXCEPTION USING ERRCODE = '22018', MESSAGE = quote_literal(value) || ' is no BOOLEAN';
                  END IF;
                  RETURN NULL;
              END CASE;
            END
            $body$""";

    private static final String MOMENT =
            """
            CREATE OR REPLACE FUNCTION cantina.moment (value text, kind text)
            RETURNS text
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- What is to be cast to a date or a time: 22007 where it is written as none. The server
            -- would take words for it too.
            DECLARE
              day CONSTANT text := '[0-9]{4}-[0-9]{1,2}-[0-9]{1,2}';
              hour CONSTANT text := '[0-9]{1,2}:[0-9]{2}(:[0-9]{2}([.][0-9]{1,9})?)?';
            BEGIN
              IF btrim(value) !~ ('^' || CASE kind
                WHEN 'date' THEN day
                WHEN 'time' THEN hour
                ELSE day || '([ T]' || hour || ')?'
              END || '$') THEN
                RAISE EXCEPTION USING ERRCODE = '22007', MESSAGE = quote_literal(value) || ' is no ' || kind;
              END IF;
              RETURN value;
            END
            $body$""";
    private static final String PRESENT =
            """
            CREATE OR REPLACE FUNCTION cantina.present (statement text, state text)
            RETURNS text
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- The text of a statement, which must be there: 22004 where it is given, 26000 where it
            -- was prepared.
            BEGIN
              IF statement IS NULL THEN
                RAISE EXCEPTION USING ERRCODE = state, MESSAGE = CASE state
                  WHEN '22004' THEN 'the text of the statement is NULL'
                  ELSE 'there is no such prepared statement'
                END;
              END IF;
              RETURN statement;
            END
            $body$""";
    private static final String STANDING =
            """
            CREATE OR REPLACE FUNCTION cantina.standing (gone boolean)
            RETURNS void
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- A cursor whose row was deleted through it stands on none.
            BEGIN
              IF gone THEN
                RAISE EXCEPTION USING ERRCODE = '24000', MESSAGE = 'the cursor stands on no row; FETCH one first';
              END IF;
            END
            $body$""";
    private static final String FITTING =
            """
            CREATE OR REPLACE FUNCTION cantina.fitting (value text, length integer)
            RETURNS text
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- A number or a moment as text; 22001 where it is longer than the type takes.
            BEGIN
              IF char_length(value) > length THEN
                RAISE EXCEPTION USING ERRCODE = '22001',
                  MESSAGE = 'the text is longer than ' || length || ' characters';
              END IF;
              RETURN value;
            END
            $body$""";

    private static final String OCTETS =
            """
            CREATE OR REPLACE FUNCTION cantina.octets (value bytea, length integer, whole boolean)
            RETURNS bytea
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- A binary string of a type with a length, which the server keeps of none.
            BEGIN
              IF octet_length(value) > length THEN
                RAISE EXCEPTION USING ERRCODE = '22001',
                  MESSAGE = octet_length(value) || ' octets are too many for ' || length;
              END IF;
              IF whole AND octet_length(value) < length THEN
                RETURN value || decode(repeat('00', length - octet_length(value)), 'hex');
              END IF;
              RETURN value;
            END
            $body$""";

    private static final String STANDARD =
            """
            CREATE OR REPLACE FUNCTION cantina.standard (state text)
            RETURNS text
            LANGUAGE sql IMMUTABLE
            AS $body$
            -- The SQLSTATE that every database has for what this server has one of its own for.
            SELECT CASE state
              WHEN '22P02' THEN '22018' WHEN '42P01' THEN '42S02'
              WHEN '42703' THEN '42S22' WHEN '42P07' THEN '42S01'
              WHEN '34000' THEN '24000' ELSE state
            END
            $body$""";
    private static final String PATTERN =
            """
            CREATE OR REPLACE FUNCTION cantina.pattern (pattern text, mark text)
            RETURNS text
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- A pattern of LIKE in which the escape character stands only before what it can escape.
            BEGIN
              IF char_length(mark) <> 1 THEN
                RAISE EXCEPTION USING ERRCODE = '22019', MESSAGE = 'ESCAPE takes one character';
              END IF;
              IF position(mark IN replace(replace(replace(
                   pattern, mark || mark, ''), mark || '%', ''), mark || '_', '')) > 0 THEN
                RAISE EXCEPTION USING ERRCODE = '22025',
                  MESSAGE = 'in a pattern ' || mark || ' stands before % or _ or itself';
              END IF;
              RETURN pattern;
            END
            $body$""";
    private static final String CHANGE =
            """
            CREATE OR REPLACE FUNCTION cantina.change (statement text, VARIADIC given text[] DEFAULT '{}')
            RETURNS text
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- The same for a statement that gives no rows: nobody would see them.
            BEGIN
              IF statement ~* '^[[:space:](]*(SELECT|VALUES|WITH|TABLE)[^[:alnum:]_]' THEN
                RAISE EXCEPTION USING ERRCODE = '0A000',
                  MESSAGE = 'the rows of a dynamic query can''t be handed out here';
              END IF;
              RETURN cantina.filled(statement, VARIADIC given);
            END
            $body$""";
    private static final String PREPARED =
            """
            CREATE OR REPLACE FUNCTION cantina.prepared (statement text)
            RETURNS text
            LANGUAGE plpgsql
            AS $body$
            -- A statement's text, once the server has read it and found no fault.
            DECLARE
              marked text := '';
              quote text := '';
              one text;
              used integer := 0;
            BEGIN
              IF statement IS NULL THEN
                RAISE EXCEPTION USING ERRCODE = '22004', MESSAGE = 'the text of the statement is NULL';
              END IF;
              IF statement !~* '^[[:space:](]*(SELECT|INSERT|UPDATE|DELETE|MERGE|VALUES|WITH|TABLE)[^[:alnum:]_]' THEN
                IF statement !~* '^[[:space:]]*(CREATE|DROP|ALTER|TRUNCATE|COMMENT|GRANT|REVOKE|SET|CALL)[^[:alnum:]_]' THEN
                  RAISE EXCEPTION USING ERRCODE = '42601', MESSAGE = 'this is no statement: ' || statement;
                END IF;
                RETURN statement;
              END IF;
              FOREACH one IN ARRAY regexp_split_to_array(statement, '') LOOP
                IF one IN ('''', '"') AND quote IN ('', one) THEN
                  quote := CASE quote WHEN '' THEN one ELSE '' END;
                END IF;
                IF one = '?' AND quote = '' THEN
                  used := used + 1;
                  marked := marked || '$' || used;
                ELSE
                  marked := marked || one;
                END IF;
              END LOOP;
              BEGIN
                EXECUTE 'PREPARE cantina_probe AS ' || marked;
                DEALLOCATE cantina_probe;
              EXCEPTION WHEN indeterminate_datatype THEN
                NULL;
              END;
              RETURN statement;
            END
            $body$""";
    private static final String OPEN =
            """
            CREATE OR REPLACE FUNCTION cantina.open (opened refcursor, wanted boolean)
            RETURNS void
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- 24000 where a cursor is not open, or closed, as a statement wants it.
            BEGIN
              IF (opened IS NOT NULL) <> wanted THEN
                RAISE EXCEPTION USING ERRCODE = '24000',
                  MESSAGE = CASE WHEN wanted THEN 'the cursor is not open' ELSE 'the cursor is open already' END;
              END IF;
            END
            $body$""";
    private static final String BOUNDED =
            """
            CREATE OR REPLACE FUNCTION cantina.bounded (list anyarray, most integer)
            RETURNS anyarray
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- An array on its way into a type with a maximum; 2202F where it has more elements.
            BEGIN
              IF cardinality(list) > most THEN
                RAISE EXCEPTION USING ERRCODE = '2202F',
                  MESSAGE = 'the array has more than ' || most || ' elements';
              END IF;
              RETURN list;
            END
            $body$""";

    private static final String JOINED =
            """
            CREATE OR REPLACE FUNCTION cantina.joined (first anycompatiblearray, second anycompatiblearray)
            RETURNS anycompatiblearray
            LANGUAGE sql IMMUTABLE STRICT
            AS $body$
            -- Two arrays as one, which is NULL where one of them is.
            SELECT first || second
            $body$""";
    private static final String TRIMMED =
            """
            CREATE OR REPLACE FUNCTION cantina.trimmed (what text)
            RETURNS text
            LANGUAGE plpgsql IMMUTABLE
            AS $body$
            -- What TRIM takes away: one character, 22027 otherwise.
            BEGIN
              IF char_length(what) <> 1 THEN
                RAISE EXCEPTION USING ERRCODE = '22027', MESSAGE = 'TRIM takes one character';
              END IF;
              RETURN what;
            END
            $body$""";

    private static final String RAISE_AGAIN =
            """
            CREATE OR REPLACE FUNCTION cantina.raise_again (told text[])
            RETURNS void
            LANGUAGE plpgsql
            AS $body$
            -- Raises what a procedure has told in place of raising it.
            BEGIN
              IF told IS NOT NULL THEN
                RAISE EXCEPTION USING ERRCODE = told[1], MESSAGE = COALESCE(told[2], ''),
                  DETAIL = COALESCE(told[3], ''), HINT = COALESCE(told[4], ''),
                  CONSTRAINT = COALESCE(told[5], ''), TABLE = COALESCE(told[6], ''),
                  COLUMN = COALESCE(told[7], ''), SCHEMA = COALESCE(told[8], ''),
                  DATATYPE = COALESCE(told[9], '');
              END IF;
            END
            $body$""";

    private static final String SAME =
            """
            CREATE OR REPLACE FUNCTION cantina.same (a anycompatiblearray, b anycompatiblearray)
            RETURNS boolean
            LANGUAGE plpgsql IMMUTABLE STRICT
            AS $body$
            -- Whether two arrays are equal, element by element; unknown where only NULL decides.
            DECLARE
              unknown boolean := FALSE;
            BEGIN
              IF cardinality(a) <> cardinality(b) THEN
                RETURN FALSE;
              END IF;
              FOR i IN 1 .. cardinality(a) LOOP
                IF a[i] <> b[i] THEN
                  RETURN FALSE;
                END IF;
                unknown := unknown OR a[i] IS NULL OR b[i] IS NULL;
              END LOOP;
              RETURN CASE WHEN NOT unknown THEN TRUE END;
            END
            $body$""";

    private PostgresSupport() {}

    /** A schema whose functions those may call who may use the application's own. */
    public static String open(String schema) {
        return "CREATE SCHEMA IF NOT EXISTS "
                + schema
                + ";\nGRANT USAGE ON SCHEMA "
                + schema
                + " TO PUBLIC";
    }

    static List<ServerObject> objects() {
        List<ServerObject> objects = new ArrayList<>();
        add(objects, "schema", "cantina", open("cantina"));
        add(objects, "function", "cantina.element(anyarray, bigint)", ELEMENT);
        add(
                objects,
                "function",
                "cantina.placed(anycompatiblearray, bigint, anycompatible, integer)",
                PLACED);
        add(objects, "function", "cantina.filled(text, text[])", FILLED);
        add(objects, "function", "cantina.start_transaction()", START);
        add(objects, "function", "cantina.fitting(text, integer)", FITTING);
        add(objects, "function", "cantina.octets(bytea, integer, boolean)", OCTETS);
        add(objects, "function", "cantina.truth(text)", TRUTH);
        add(objects, "function", "cantina.moment(text, text)", MOMENT);
        add(objects, "function", "cantina.present(text, text)", PRESENT);
        add(objects, "function", "cantina.standing(boolean)", STANDING);
        add(objects, "function", "cantina.standard(text)", STANDARD);
        add(objects, "function", "cantina.pattern(text, text)", PATTERN);
        add(objects, "function", "cantina.change(text, text[])", CHANGE);
        add(objects, "function", "cantina.prepared(text)", PREPARED);
        add(objects, "function", "cantina.open(refcursor, boolean)", OPEN);
        add(objects, "function", "cantina.bounded(anyarray, integer)", BOUNDED);
        add(objects, "function", "cantina.joined(anycompatiblearray, anycompatiblearray)", JOINED);
        add(objects, "function", "cantina.trimmed(text)", TRIMMED);
        add(objects, "function", "cantina.raise_again(text[])", RAISE_AGAIN);
        add(objects, "function", "cantina.same(anycompatiblearray, anycompatiblearray)", SAME);
        return objects;
    }

    private static void add(List<ServerObject> objects, String kind, String identity, String text) {
        String name = identity.replaceAll("\\(.*", "");
        String drop = "DROP " + kind.toUpperCase(Locale.ROOT) + " IF EXISTS " + identity;
        objects.add(
                new ServerObject(
                        kind,
                        name,
                        "",
                        List.of(new ServerPart(kind + " " + identity, text, drop))));
    }
}
