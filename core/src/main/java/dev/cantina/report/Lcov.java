package dev.cantina.report;

import dev.cantina.observe.Coverage;
import dev.cantina.syntax.Visible;
import java.nio.file.Path;

/** Coverage as an LCOV trace file. */
public final class Lcov {
    private Lcov() {}

    /**
     * @param root the folder that the files' names start from
     */
    public static String of(Coverage coverage, Path root) {
        StringBuilder text = new StringBuilder();
        for (Coverage.OfFile file : coverage.files()) {
            text.append("TN:\n");
            text.append("SF:")
                    .append(Visible.line(root.resolve(file.name()).toString()))
                    .append('\n');
            int ran = 0;
            for (Coverage.OfRoutine routine : file.routines()) {
                text.append("FN:")
                        .append(routine.span().line())
                        .append(',')
                        .append(routine.name())
                        .append('\n');
            }
            for (Coverage.OfRoutine routine : file.routines()) {
                text.append("FNDA:")
                        .append(routine.entered())
                        .append(',')
                        .append(routine.name())
                        .append('\n');
                ran += routine.entered() > 0 ? 1 : 0;
            }
            text.append("FNF:").append(file.routines().size()).append('\n');
            text.append("FNH:").append(ran).append('\n');
            int taken = 0;
            for (Coverage.OfBranch branch : file.branches()) {
                long reached = file.lines().getOrDefault(branch.line(), 0L);
                text.append("BRDA:")
                        .append(branch.line())
                        .append(",0,")
                        .append(branch.number())
                        .append(',')
                        .append(reached == 0 ? "-" : String.valueOf(branch.taken()))
                        .append('\n');
                taken += branch.taken() > 0 ? 1 : 0;
            }
            text.append("BRF:").append(file.branches().size()).append('\n');
            text.append("BRH:").append(taken).append('\n');
            file.lines()
                    .forEach(
                            (line, times) ->
                                    text.append("DA:")
                                            .append(line)
                                            .append(',')
                                            .append(times)
                                            .append('\n'));
            long hit = file.lines().values().stream().filter(t -> t > 0).count();
            text.append("LF:").append(file.lines().size()).append('\n');
            text.append("LH:").append(hit).append('\n');
            text.append("end_of_record\n");
        }
        return text.toString();
    }
}
