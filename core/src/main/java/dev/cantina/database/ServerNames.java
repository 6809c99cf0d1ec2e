package dev.cantina.database;

import dev.cantina.binding.Variable;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Kind;
import dev.cantina.syntax.SqlWords.Word;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.UnaryOperator;

/** Names as a server wants them written. */
public final class ServerNames {
    private final char quote;

    /** What a name without quotes is taken for. */
    private final UnaryOperator<String> folded;

    private final Set<String> reserved;

    private ServerNames(char quote, UnaryOperator<String> folded, String reserved) {
        this.quote = quote;
        this.folded = folded;
        this.reserved = Set.of(reserved.split(" "));
    }

    /** What the embedded database reserves beside the words that the language does. */
    public static ServerNames embedded() {
        return new ServerNames(
                '"',
                n -> n.toUpperCase(Locale.ROOT),
                "ASYMMETRIC AUTHORIZATION BOTH CHECK CONSTRAINT CURRENT_CATALOG CURRENT_DATE"
                        + " CURRENT_PATH CURRENT_ROLE CURRENT_SCHEMA CURRENT_TIME CURRENT_TIMESTAMP"
                        + " CURRENT_USER FOREIGN GROUPS ILIKE INTERVAL LEADING LIMIT LOCALTIME"
                        + " LOCALTIMESTAMP MINUS OVER PARTITION PRIMARY QUALIFY RANGE REGEXP ROW ROWNUM"
                        + " ROWS SESSION_USER SOME SYMMETRIC SYSTEM_USER TO TOP TRAILING UESCAPE UNIQUE"
                        + " USER WINDOW _ROWID_");
    }

    /** What PostgreSQL 17 reserves, in whole or for types and functions, and PL/pgSQL besides. */
    public static ServerNames postgres() {
        return new ServerNames(
                '"',
                n -> n.toLowerCase(Locale.ROOT),
                "ALL ANALYSE ANALYZE AND ANY ARRAY AS ASC ASYMMETRIC AUTHORIZATION BINARY BOTH CASE"
                        + " CAST CHECK COLLATE COLLATION COLUMN CONCURRENTLY CONSTRAINT CREATE CROSS"
                        + " CURRENT_CATALOG CURRENT_DATE CURRENT_ROLE CURRENT_SCHEMA CURRENT_TIME"
                        + " CURRENT_TIMESTAMP CURRENT_USER DEFAULT DEFERRABLE DESC DISTINCT DO ELSE END"
                        + " EXCEPT FALSE FETCH FOR FOREIGN FREEZE FROM FULL GRANT GROUP HAVING ILIKE IN"
                        + " INITIALLY INNER INTERSECT INTO IS ISNULL JOIN LATERAL LEADING LEFT LIKE"
                        + " LIMIT LOCALTIME LOCALTIMESTAMP NATURAL NOT NOTNULL NULL OFFSET ON ONLY OR"
                        + " ORDER OUTER OVERLAPS PLACING PRIMARY REFERENCES RETURNING RIGHT SELECT"
                        + " SESSION_USER SIMILAR SOME SYMMETRIC SYSTEM_USER TABLE TABLESAMPLE THEN TO"
                        + " TRAILING TRUE UNION UNIQUE USER USING VARIADIC VERBOSE WHEN WHERE WINDOW"
                        + " WITH BEGIN BY DECLARE EXECUTE FOREACH IF LOOP STRICT WHILE FOUND SQLSTATE"
                        + " SQLERRM BIGINT BIT BOOLEAN CHAR COALESCE DEC DECIMAL EXISTS EXTRACT FLOAT GREATEST"
                        + " GROUPING INOUT INT INTEGER INTERVAL LEAST NATIONAL NCHAR NONE NORMALIZE NULLIF"
                        + " NUMERIC OUT OVERLAY POSITION PRECISION REAL ROW SETOF SMALLINT SUBSTRING TIME"
                        + " ABSOLUTE BACKWARD FIRST FORWARD LAST NEXT PRIOR RELATIVE CHARACTER JSON"
                        + " JSON_ARRAY JSON_ARRAYAGG JSON_EXISTS JSON_OBJECT JSON_OBJECTAGG JSON_QUERY"
                        + " JSON_SCALAR JSON_SERIALIZE JSON_TABLE JSON_VALUE MERGE_ACTION OPERATOR"
                        + " TIMESTAMP TREAT TRIM VALUES VARCHAR XMLATTRIBUTES XMLCONCAT XMLELEMENT XMLEXISTS"
                        + " XMLFOREST XMLNAMESPACES XMLPARSE XMLPI XMLROOT XMLSERIALIZE XMLTABLE BETWEEN");
    }

    /** What MariaDB 11 reserves. */
    public static ServerNames mariadb() {
        return new ServerNames(
                '`',
                n -> n,
                "ACCESSIBLE ADD ALL ALTER ANALYZE AND AS ASC ASENSITIVE BEFORE BETWEEN BIGINT"
                        + " BINARY BLOB BOTH BY CALL CASCADE CASE CHANGE CHAR CHARACTER CHECK COLLATE"
                        + " COLUMN CONDITION CONSTRAINT CONTINUE CONVERT CREATE CROSS CURRENT_DATE"
                        + " CURRENT_ROLE CURRENT_TIME CURRENT_TIMESTAMP CURRENT_USER CURSOR DATABASE"
                        + " DATABASES DAY_HOUR DAY_MICROSECOND DAY_MINUTE DAY_SECOND DEC DECIMAL"
                        + " DECLARE DEFAULT DELAYED DELETE DESC DESCRIBE DETERMINISTIC DISTINCT"
                        + " DISTINCTROW DIV DOUBLE DROP DUAL EACH ELSE ELSEIF ENCLOSED ESCAPED EXCEPT"
                        + " EXISTS EXIT EXPLAIN FALSE FETCH FLOAT FLOAT4 FLOAT8 FOR FORCE FOREIGN FROM"
                        + " FULLTEXT GENERAL GRANT GROUP HAVING HIGH_PRIORITY HOUR_MICROSECOND"
                        + " HOUR_MINUTE HOUR_SECOND IF IGNORE IGNORE_SERVER_IDS IN INDEX INFILE INNER"
                        + " INOUT INSENSITIVE INSERT INT INT1 INT2 INT3 INT4 INT8 INTEGER INTERSECT"
                        + " INTERVAL INTO IS ITERATE JOIN KEY KEYS KILL LEADING LEAVE LEFT LIKE LIMIT"
                        + " LINEAR LINES LOAD LOCALTIME LOCALTIMESTAMP LOCK LONG LONGBLOB LONGTEXT LOOP"
                        + " LOW_PRIORITY MATCH MAXVALUE MEDIUMBLOB MEDIUMINT MEDIUMTEXT MIDDLEINT"
                        + " MINUTE_MICROSECOND MINUTE_SECOND MOD MODIFIES NATURAL NOT NULL NUMERIC"
                        + " OFFSET ON OPTIMIZE OPTION OPTIONALLY OR ORDER OUT OUTER OUTFILE OVER"
                        + " PARTITION PORTION PRECISION PRIMARY PROCEDURE PURGE RANGE READ READS"
                        + " READ_WRITE REAL RECURSIVE REFERENCES REGEXP RELEASE RENAME REPEAT REPLACE"
                        + " REQUIRE RESIGNAL RESTRICT RETURN RETURNING REVOKE RIGHT RLIKE ROWS ROW_NUMBER"
                        + " SCHEMA SCHEMAS SECOND_MICROSECOND SELECT SENSITIVE SEPARATOR SET SHOW"
                        + " SIGNAL SMALLINT SPATIAL SPECIFIC SQL SQLEXCEPTION SQLSTATE SQLWARNING SSL"
                        + " STARTING STRAIGHT_JOIN TABLE TERMINATED THEN TINYBLOB TINYINT TINYTEXT TO"
                        + " TRAILING TRIGGER TRUE UNDO UNION UNIQUE UNLOCK UNSIGNED UPDATE USAGE USE"
                        + " USING UTC_DATE UTC_TIME UTC_TIMESTAMP VALUES VARBINARY VARCHAR"
                        + " VARCHARACTER VARYING WHEN WHERE WHILE WINDOW WITH WRITE XOR YEAR_MONTH"
                        + " ZEROFILL CUBE DELETE_DOMAIN_ID DO_DOMAIN_IDS DUMPFILE IGNORE_DOMAIN_IDS"
                        + " MASTER_DEMOTE_TO_REPLICA MASTER_DEMOTE_TO_SLAVE"
                        + " MASTER_SSL_VERIFY_SERVER_CERT NAMES NO_WRITE_TO_BINLOG PAGE_CHECKSUM"
                        + " PARSE_VCOL_EXPR PASSWORD REF_SYSTEM_ID ROLLUP SQL_AFTER_GTIDS"
                        + " SQL_BEFORE_GTIDS SQL_BIG_RESULT SQL_BUFFER_RESULT SQL_CACHE"
                        + " SQL_CALC_FOUND_ROWS SQL_NO_CACHE SQL_SMALL_RESULT STATS_AUTO_RECALC"
                        + " STATS_PERSISTENT STATS_SAMPLE_PAGES SYSTEM SYSTEM_TIME");
    }

    /** What MariaDB takes for a name, but not for a label's or a routine's. */
    private static final Set<String> BEGINNING =
            Set.of(
                    ("ASCII BACKUP BINLOG BIT BOOL BOOLEAN BYTE CACHE CHARSET CHECKPOINT CHECKSUM CLOB"
                                    + " CLOSE CODE COLUMN_ADD COLUMN_CHECK COLUMN_CREATE COLUMN_DELETE"
                                    + " COLUMN_GET COMMENT COMMIT COMPRESSED CONTAINS DATETIME DEALLOCATE"
                                    + " ENUM EXAMINED EXCLUDE EXECUTE FIXED FLUSH FOLLOWING FOLLOWS FORMAT"
                                    + " GET GET_FORMAT GLOBAL HANDLER HELP HOST ID IGNORED INSTALL JSON"
                                    + " LANGUAGE LASTVAL LOCAL MEDIUM NATIONAL NCHAR NEXTVAL NO NUMBER"
                                    + " NVARCHAR OPEN OPTIONS OTHERS OWNER PARSER PERIOD PORT PRECEDES"
                                    + " PRECEDING PREPARE RAW REMOVE REPAIR REPLICA REPLICAS RESET RESTORE"
                                    + " ROLE ROLLBACK ROW ROWNUM SAVEPOINT SECURITY SERIAL SERVER SESSION"
                                    + " SETVAL SHUTDOWN SIGNED SLAVE SLAVES SOCKET SOME SONAME SOUNDS START"
                                    + " STOP STORED TEXT TIES TIMESTAMPADD TIMESTAMPDIFF TRUNCATE UNBOUNDED"
                                    + " UNICODE UNINSTALL UPGRADE USER VALUE WITHIN WRAPPER XA")
                            .split(" "));

    /** A label or a routine's name on MariaDB. */
    public String beginning(Name name) {
        return name.delimited() ? quoted(name.text()) : beginning(name.text());
    }

    public String beginning(String name) {
        return BEGINNING.contains(name.toUpperCase(Locale.ROOT)) ? quoted(name) : of(name);
    }

    public String of(Name name) {
        return name.delimited() ? quoted(name.text()) : of(name.text());
    }

    /** A variable: in quotes where its author put it into some. */
    public String of(Variable variable) {
        boolean delimited = variable.span() != null && variable.span().text().startsWith("\"");
        return delimited ? quoted(variable.name()) : of(variable.name());
    }

    /** An ordinary name, in quotes only where the server reserves it. */
    public String of(String name) {
        boolean plain = name.matches("[\\p{L}_][\\p{L}\\p{N}_]*");
        if (plain && !reserved.contains(name.toUpperCase(Locale.ROOT))) {
            return name;
        }
        return quoted(plain ? folded.apply(name) : name);
    }

    /** A word that stands for a name in a statement, in quotes where the server reserves it. */
    public String unreserved(String word) {
        return isReserved(word) ? of(word) : word;
    }

    /** Words that begin a constraint among the columns of a table. */
    private static final Set<String> CONSTRAINTS =
            Set.of("CONSTRAINT", "PRIMARY", "UNIQUE", "CHECK", "FOREIGN", "LIKE");

    /** The bracket with a table's columns, their names in quotes where the server reserves them. */
    public String definition(String bracket) {
        List<Word> words = SqlWords.of(bracket).all();
        Set<String> columns = new HashSet<>();
        for (int i = 1; i < words.size(); i++) {
            Word before = words.get(i - 1);
            boolean begins =
                    before.depth() == 0 && before.is("(") || before.depth() == 1 && before.is(",");
            Word word = words.get(i);
            if (begins && word.kind() == Kind.WORD && !CONSTRAINTS.contains(word.text())) {
                columns.add(word.text());
            }
        }
        StringBuilder made = new StringBuilder();
        int at = 0;
        for (int i = 1; i < words.size(); i++) {
            Word word = words.get(i);
            boolean clause = words.get(i - 1).is("PRIMARY") || words.get(i - 1).is("FOREIGN");
            if (word.kind() == Kind.WORD
                    && columns.contains(word.text())
                    && isReserved(word.text())
                    && !clause) {
                made.append(bracket, at, word.start());
                made.append(unreserved(bracket.substring(word.start(), word.end())));
                at = word.end();
            }
        }
        return made.append(bracket, at, bracket.length()).toString();
    }

    public String quoted(String name) {
        return quote + name.replace(String.valueOf(quote), "" + quote + quote) + quote;
    }

    public boolean isReserved(String name) {
        return reserved.contains(name.toUpperCase(Locale.ROOT));
    }
}
