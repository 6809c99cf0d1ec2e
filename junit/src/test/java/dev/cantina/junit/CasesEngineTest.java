package dev.cantina.junit;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.platform.engine.discovery.DiscoverySelectors.selectClass;
import static org.junit.platform.engine.discovery.DiscoverySelectors.selectUniqueId;

import org.junit.jupiter.api.Test;
import org.junit.platform.testkit.engine.EngineExecutionResults;
import org.junit.platform.testkit.engine.EngineTestKit;
import org.junit.platform.testkit.engine.Event;

/** The engine on the winery, as a build or an editor runs it. */
class CasesEngineTest {
    /** All cases of the demo. */
    @Cases(project = "../demo/winery")
    static final class Winery {}

    /** Some of them. */
    @Cases(
            project = "../demo/winery",
            select = {"move_wine"})
    static final class Moves {}

    /** A project that is not there. */
    @Cases(project = "../demo/none")
    static final class Missing {}

    private static EngineExecutionResults run(Class<?> type) {
        return EngineTestKit.engine(new CasesEngine()).selectors(selectClass(type)).execute();
    }

    @Test
    void allCasesRunAndEachFailureSaysWhy() {
        EngineExecutionResults results = run(Winery.class);
        results.testEvents().assertStatistics(s -> s.started(46).succeeded(45).failed(1));
        Event failed = results.testEvents().failed().list().get(0);
        assertEquals(
                "two months in a barrel of 200 litres",
                failed.getTestDescriptor().getDisplayName());
        String told =
                failed.getRequiredPayload(org.junit.platform.engine.TestExecutionResult.class)
                        .getThrowable()
                        .orElseThrow()
                        .getMessage();
        assertTrue(told.contains("returns.lost: expected 6.0, actual 8.9"), told);
    }

    @Test
    void selectorsChoose() {
        EngineExecutionResults results = run(Moves.class);
        results.testEvents().assertStatistics(s -> s.started(8).succeeded(8).failed(0));
    }

    @Test
    void oneCaseCanBeRunAgain() {
        String id =
                run(Moves.class)
                        .testEvents()
                        .list()
                        .get(0)
                        .getTestDescriptor()
                        .getUniqueId()
                        .toString();
        EngineTestKit.engine(new CasesEngine())
                .selectors(selectUniqueId(id))
                .execute()
                .testEvents()
                .assertStatistics(s -> s.started(1).succeeded(1));
    }

    @Test
    void aProjectThatIsNotThereFailsTheClass() {
        run(Missing.class).containerEvents().assertStatistics(s -> s.failed(1));
    }
}
