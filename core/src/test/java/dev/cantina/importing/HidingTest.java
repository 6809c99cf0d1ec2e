package dev.cantina.importing;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.importing.Hiding.HidingException;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class HidingTest {
    private static LiveTable.Column column(String name, LiveTable.Kind kind, boolean nullable) {
        return new LiveTable.Column(name, name, "a type", kind, nullable, false);
    }

    private static final LiveTable CUSTOMER =
            new LiveTable(
                    "customer",
                    "customer",
                    List.of(
                            column("id", LiveTable.Kind.WHOLE, false),
                            column("email", LiveTable.Kind.TEXT, true),
                            column("note", LiveTable.Kind.TEXT, true),
                            column("ok", LiveTable.Kind.TRUTH, false)),
                    List.of(0),
                    List.of(List.of(0), List.of(1)),
                    List.of(),
                    true);

    private static final LiveTable ORDERS =
            new LiveTable(
                    "sales.orders",
                    "sales.orders",
                    List.of(
                            column("id", LiveTable.Kind.WHOLE, false),
                            column("who", LiveTable.Kind.TEXT, true),
                            column("note", LiveTable.Kind.TEXT, false)),
                    List.of(0),
                    List.of(List.of(0)),
                    List.of(
                            new LiveTable.Reference(
                                    "by_email", List.of(1), "customer", List.of("email"))),
                    true);

    private static Hiding hiding(Map<String, String> columns) throws HidingException {
        return new Hiding(List.of(CUSTOMER, ORDERS), columns, new byte[32]);
    }

    @Test
    void whatRefersToAHiddenValueFollowsIt() throws Exception {
        for (String said : List.of("email", "CUSTOMER.Email", "sales.orders.who")) {
            Hiding hiding = hiding(Map.of(said, "made-up"));
            String[] customer = hiding.row(CUSTOMER, new String[] {"1", "a@b.c", "n", "true"});
            String[] order = hiding.row(ORDERS, new String[] {"7", "a@b.c", "n"});
            assertEquals(customer[1], order[1], said);
            assertNotEquals("a@b.c", order[1], said);
            assertArrayEquals(
                    new String[] {"1", "n", "true"},
                    new String[] {customer[0], customer[2], customer[3]});
            assertEquals(1, hiding.followed().size());
        }
    }

    @Test
    void aColumnOfAllTablesOrOfOne() throws Exception {
        Hiding all = hiding(Map.of("note", "text:gone"));
        assertEquals("gone", all.row(CUSTOMER, new String[] {"1", null, "n", "true"})[2]);
        assertEquals("gone", all.row(ORDERS, new String[] {"1", null, "n"})[2]);
        Hiding one = hiding(Map.of("customer.note", "null"));
        String[] row = {"1", null, "n", "true"};
        assertNull(one.row(CUSTOMER, row)[2]);
        assertEquals("n", row[2]);
        assertEquals("n", one.row(ORDERS, new String[] {"1", null, "n"})[2]);
        // What is not there is not hidden.
        assertNull(
                hiding(Map.of("email", "made-up"))
                        .row(CUSTOMER, new String[] {"1", null, "n", "t"})[1]);
    }

    @ParameterizedTest
    @CsvSource({
        "emial, made-up, there is no column emial; did you mean email?",
        "customer.emial, made-up, there is no column customer.emial; did you mean customer.email?",
        "nowhere.email, made-up, there is no column nowhere.email",
        "email, shuffled, 'a column is hidden by made-up, null or text:…, not by shuffled'",
        "ok, made-up, 'customer.ok is of the type a type, for which nothing can be made up'",
        "note, null, sales.orders.note takes no NULL",
        "email, null, customer.email belongs to a key",
        "customer.id, text:1, customer.id belongs to a key",
        "who, text:x, sales.orders.who refers to another table's rows",
    })
    void whatCantBeIsSaid(String column, String how, String said) {
        String message =
                assertThrows(HidingException.class, () -> hiding(Map.of(column, how))).getMessage();
        assertTrue(message.startsWith(said), message);
    }
}
