package dev.cantina.deploy;

import java.util.ArrayList;
import java.util.List;

/** The few functions that translated routines call for what PL/pgSQL has no words for. */
final class PostgresSupport {
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

    private PostgresSupport() {}

    static List<ServerObject> objects() {
        List<ServerObject> objects = new ArrayList<>();
        add(objects, "schema", "cantina", "CREATE SCHEMA IF NOT EXISTS cantina");
        add(objects, "function", "cantina.element(anyarray, bigint)", ELEMENT);
        add(
                objects,
                "function",
                "cantina.placed(anycompatiblearray, bigint, anycompatible, integer)",
                PLACED);
        add(objects, "function", "cantina.filled(text, text[])", FILLED);
        add(objects, "function", "cantina.start_transaction()", START);
        add(objects, "function", "cantina.fitting(text, integer)", FITTING);
        return objects;
    }

    private static void add(List<ServerObject> objects, String kind, String identity, String text) {
        String name = identity.replaceAll("\\(.*", "");
        objects.add(
                new ServerObject(
                        kind,
                        name,
                        kind + " " + identity,
                        "",
                        List.of(text),
                        List.of("DROP " + kind.toUpperCase(java.util.Locale.ROOT) + " IF EXISTS " + identity)));
    }
}
