package dev.cantina.testing;

import dev.cantina.project.ProjectException;
import dev.cantina.project.YamlNode;
import dev.cantina.racing.IsolationLevel;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * That the calls of a case are made at the same time, each in a session of its own.
 *
 * @param order the sessions of the steps, from 1; empty for every order that matters
 * @param level at which all transactions run
 */
public record AtOnce(List<Integer> order, IsolationLevel level) {
    /** Reads {@code at_once: { order: [1, 2, …], isolation: LEVEL }}. */
    static AtOnce read(YamlNode node, int calls) throws ProjectException {
        YamlNode.Mapping mapping = node.mapping("at_once", Set.of("order", "isolation"));
        if (calls < 2) {
            throw node.wrong("at_once is for a case with several calls, each a session of its own");
        }
        List<Integer> order = new ArrayList<>();
        if (mapping.get("order").isPresent()) {
            for (YamlNode item : mapping.get("order").get().sequence("order").items()) {
                String text = item.text("the number of a session");
                if (!text.matches("[0-9]{1,3}")
                        || Integer.parseInt(text) < 1
                        || Integer.parseInt(text) > calls) {
                    throw item.wrong("order holds the numbers of calls, from 1 to " + calls);
                }
                order.add(Integer.parseInt(text));
            }
        }
        IsolationLevel level = IsolationLevel.OWN;
        if (mapping.get("isolation").isPresent()) {
            YamlNode said = mapping.get("isolation").get();
            Optional<IsolationLevel> found = IsolationLevel.of(said.text("isolation"));
            if (found.isEmpty()) {
                throw said.wrong(
                        "isolation is READ UNCOMMITTED, READ COMMITTED, REPEATABLE READ or"
                                + " SERIALIZABLE");
            }
            level = found.get();
        }
        return new AtOnce(List.copyOf(order), level);
    }
}
