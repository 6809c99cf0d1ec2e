package dev.cantina.report;

import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseResult.Verdict;
import java.io.StringWriter;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;

/** JUnit XML, as Surefire's schema has it: a test suite a case file. */
public final class JUnitXml {
    private JUnitXml() {}

    public static String of(Report report) {
        StringWriter text = new StringWriter();
        try {
            XMLStreamWriter xml = XMLOutputFactory.newFactory().createXMLStreamWriter(text);
            xml.writeStartDocument("UTF-8", "1.0");
            newLine(xml, 0);
            xml.writeStartElement("testsuites");
            Map<String, List<CaseResult>> files = new LinkedHashMap<>();
            report.results()
                    .forEach(
                            r ->
                                    files.computeIfAbsent(
                                                    r.testCase().file(),
                                                    f -> new java.util.ArrayList<>())
                                            .add(r));
            for (Map.Entry<String, List<CaseResult>> file : files.entrySet()) {
                suite(xml, report, file.getKey(), file.getValue());
            }
            newLine(xml, 0);
            xml.writeEndElement();
            xml.writeEndDocument();
            xml.close();
        } catch (XMLStreamException e) {
            throw new IllegalStateException(e);
        }
        return text + "\n";
    }

    private static void suite(
            XMLStreamWriter xml, Report report, String file, List<CaseResult> results)
            throws XMLStreamException {
        newLine(xml, 1);
        xml.writeStartElement("testsuite");
        xml.writeAttribute("name", clean(file));
        xml.writeAttribute("tests", String.valueOf(results.size()));
        xml.writeAttribute("errors", count(results, Verdict.BROKEN));
        xml.writeAttribute("skipped", count(results, Verdict.SKIPPED));
        xml.writeAttribute("failures", count(results, Verdict.FAILED));
        double millis = results.stream().mapToDouble(CaseResult::elapsedMillis).sum();
        xml.writeAttribute("time", seconds(millis));
        xml.writeAttribute("timestamp", report.at().truncatedTo(ChronoUnit.SECONDS).toString());
        for (CaseResult result : results) {
            testCase(xml, file, result);
        }
        newLine(xml, 1);
        xml.writeEndElement();
    }

    private static void testCase(XMLStreamWriter xml, String file, CaseResult result)
            throws XMLStreamException {
        newLine(xml, 2);
        xml.writeStartElement("testcase");
        xml.writeAttribute("name", clean(result.testCase().name()));
        xml.writeAttribute("classname", clean(file.replaceAll("\\.ya?ml$", "").replace('/', '.')));
        xml.writeAttribute("time", seconds(result.elapsedMillis()));
        List<String> reasons = Report.reasons(result);
        switch (result.verdict()) {
            case FAILED -> reason(xml, "failure", "difference", reasons);
            case BROKEN -> reason(xml, "error", "broken", reasons);
            case SKIPPED -> {
                newLine(xml, 3);
                xml.writeEmptyElement("skipped");
                xml.writeAttribute("message", clean(result.testCase().skip().orElse("")));
                newLine(xml, 2);
            }
            case PASSED -> {
                // Nothing more to say.
            }
        }
        xml.writeEndElement();
    }

    private static void reason(XMLStreamWriter xml, String element, String type, List<String> lines)
            throws XMLStreamException {
        newLine(xml, 3);
        xml.writeStartElement(element);
        xml.writeAttribute("message", clean(lines.isEmpty() ? "" : lines.get(0)));
        xml.writeAttribute("type", type);
        xml.writeCharacters(clean(String.join("\n", lines)));
        xml.writeEndElement();
        newLine(xml, 2);
    }

    private static void newLine(XMLStreamWriter xml, int depth) throws XMLStreamException {
        xml.writeCharacters("\n" + "  ".repeat(depth));
    }

    private static String count(List<CaseResult> results, Verdict verdict) {
        return String.valueOf(results.stream().filter(r -> r.verdict() == verdict).count());
    }

    private static String seconds(double millis) {
        return String.format(Locale.ROOT, "%.3f", millis / 1000);
    }

    /** Without the characters that XML 1.0 can't hold. */
    private static String clean(String text) {
        StringBuilder clean = new StringBuilder();
        text.codePoints()
                .map(
                        c ->
                                c >= 0x20 && c <= 0xD7FF
                                                || c == 9
                                                || c == 10
                                                || c >= 0xE000 && c <= 0xFFFD
                                                || c >= 0x10000
                                        ? c
                                        : 0xFFFD)
                .forEach(clean::appendCodePoint);
        return clean.toString();
    }
}
