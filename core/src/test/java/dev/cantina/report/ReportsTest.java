package dev.cantina.report;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dev.cantina.observe.Coverage;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectReader;
import dev.cantina.runtime.Limits;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.Suite;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import javax.xml.parsers.DocumentBuilderFactory;
import org.apache.maven.plugin.surefire.log.api.NullConsoleLogger;
import org.apache.maven.plugins.surefire.report.ReportTestSuite;
import org.apache.maven.plugins.surefire.report.TestSuiteXmlParser;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.w3c.dom.Document;
import org.w3c.dom.Element;

/** The open report formats, read by what reads them. */
class ReportsTest {
    @TempDir Path root;
    private Report report;

    private void write(String name, String text) throws IOException {
        Files.createDirectories(root.resolve(name).getParent());
        Files.writeString(root.resolve(name), text);
    }

    @BeforeEach
    void run() throws Exception {
        write("cantina.yaml", "project: \"lab & <co>\"\nfixture: few\n");
        write("tables/t.sql", "CREATE TABLE cell (id INTEGER PRIMARY KEY, v INTEGER);");
        write("fixtures/few/cell.csv", "id,v\n1,10\n");
        write(
                "routines/r.sql",
                """
                CREATE FUNCTION f (n INTEGER) RETURNS INTEGER
                BEGIN
                  IF n > 5 THEN
                    RETURN 1;
                  END IF;
                  RETURN 2;
                END;
                CREATE PROCEDURE never () UPDATE cell SET v = 1 WHERE id = 1;
                """);
        write(
                "cases/c.yaml",
                """
                routine: f
                cases:
                  - { case: "one # of \\"<these>\\" & two", pass: { n: 1 }, returns: 2 }
                  - { case: other, pass: { n: 1 }, returns: 3 }
                  - { case: rest, pass: { n: 1 }, skip: not now }
                  - { case: wrong, pass: { m: 1 } }
                """);
        Project project = ProjectReader.read(root);
        Coverage coverage = new Coverage();
        CaseFiles.Found found = CaseFiles.read(project);
        List<CaseResult> results = new ArrayList<>(found.broken());
        Suite suite =
                new Suite(
                        project,
                        Optional.empty(),
                        Limits.DEFAULT,
                        Clock.systemUTC(),
                        () -> Optional.of(coverage.probe()));
        results.addAll(
                suite.run(found.cases(), new Suite.Order(1, Optional.empty(), false), r -> {}));
        report = new Report(project.name(), Instant.EPOCH, 12, results, Optional.of(coverage));
    }

    @Test
    void junitXmlSaysWhatSurefireSays() throws Exception {
        Document xml =
                DocumentBuilderFactory.newInstance()
                        .newDocumentBuilder()
                        .parse(
                                new ByteArrayInputStream(
                                        JUnitXml.of(report).getBytes(StandardCharsets.UTF_8)));
        Element suite = (Element) xml.getElementsByTagName("testsuite").item(0);
        assertEquals("4", suite.getAttribute("tests"));
        assertEquals("1", suite.getAttribute("failures"));
        assertEquals("1", suite.getAttribute("errors"));
        assertEquals("1", suite.getAttribute("skipped"));
        Element first = (Element) xml.getElementsByTagName("testcase").item(0);
        assertEquals("one # of \"<these>\" & two", first.getAttribute("name"));
        assertEquals("cases.c", first.getAttribute("classname"));
        assertTrue(first.getAttribute("time").matches("\\d+\\.\\d{3}"));
        Element failure = (Element) xml.getElementsByTagName("failure").item(0);
        assertEquals("returns: expected 3, actual 2", failure.getAttribute("message"));
        Element error = (Element) xml.getElementsByTagName("error").item(0);
        assertTrue(error.getTextContent().contains("there is no parameter m"));
    }

    @Test
    void surefiresOwnReaderTakesIt() throws Exception {
        write("j.xml", JUnitXml.of(report));
        TestSuiteXmlParser parser = new TestSuiteXmlParser(new NullConsoleLogger());
        List<ReportTestSuite> suites = parser.parse(root.resolve("j.xml").toString());
        assertTrue(parser.isValid());
        assertEquals(1, suites.size());
        assertEquals(4, suites.get(0).getTestCases().size());
        assertEquals(1, suites.get(0).getNumberOfFailures());
        assertEquals(1, suites.get(0).getNumberOfErrors());
        assertEquals(1, suites.get(0).getNumberOfSkipped());
    }

    @Test
    void tapIsReadByAConsumer() throws Exception {
        String tap = Tap.of(report);
        List<String> lines = tap.lines().toList();
        assertEquals("TAP version 14", lines.get(0));
        assertEquals("1..4", lines.get(1));
        assertEquals("ok 1 - cases/c.yaml: one \\# of \"<these>\" & two", lines.get(2));
        assertEquals("not ok 2 - cases/c.yaml: other", lines.get(3));
        assertTrue(tap.contains("ok 3 - cases/c.yaml: rest # SKIP not now"));
        assertTrue(tap.contains("    returns: expected 3, actual 2\n"));
        assumeTrue(Files.isExecutable(Path.of("/usr/bin/prove")), "prove is not there");
        // This consumer knows version 13, whose lines these are too.
        write("out.tap", tap.replace("TAP version 14", "TAP version 13"));
        String told = told("prove", "--exec", "cat", root.resolve("out.tap").toString());
        assertTrue(told.contains("Failed tests:  2, 4"), told);
        assertTrue(told.contains("Tests=4"), told);
    }

    @Test
    void lcovIsReadByGenhtml() throws Exception {
        String lcov = Lcov.of(report.coverage().get(), root);
        assertTrue(lcov.contains("DA:3,2\nDA:4,0\nDA:6,2\n"), lcov);
        assertTrue(lcov.contains("FNDA:2,f\n"), lcov);
        assertTrue(lcov.contains("BRDA:3,0,0,0\nBRDA:3,0,1,2\n"), lcov);
        assertTrue(lcov.contains("LF:3\nLH:2\n"), lcov);
        assumeTrue(Files.isExecutable(Path.of("/usr/bin/genhtml")), "genhtml is not there");
        write("out.info", lcov);
        String folder = root.resolve("pages").toString();
        told("genhtml", "--branch-coverage", "-o", folder, root.resolve("out.info").toString());
        assertTrue(Files.exists(root.resolve("pages/index.html")));
    }

    private static String told(String... command) throws Exception {
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String told = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        process.waitFor(20, TimeUnit.SECONDS);
        return told;
    }

    @Test
    void thePageHoldsAllAndAsksForNothing() {
        String page = HtmlReport.of(report);
        assertTrue(page.contains("<title>lab &amp; &lt;co&gt;: 4 cases</title>"));
        assertTrue(page.contains("one # of &quot;&lt;these&gt;&quot; &amp; two"));
        assertTrue(page.contains("<td class=\"code expected\">3</td>"));
        assertTrue(page.contains("class=\"miss\""));
        assertFalse(page.contains("http:") || page.contains("https:") || page.contains("<script"));
        assertFalse(page.contains(" src="));
    }
}
