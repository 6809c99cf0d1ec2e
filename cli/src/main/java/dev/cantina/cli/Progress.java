package dev.cantina.cli;

import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseResult.Verdict;

/** A line that shows how far a suite has got: on the error stream, and only on a terminal. */
final class Progress {
    private final Screen screen;
    private final boolean shown;
    private final int all;
    private int done;
    private int bad;
    private long last;

    Progress(Invocation call, int all) {
        this.screen = call.screen();
        this.shown = call.screen().isTerminal() && !call.quiet() && !call.json();
        this.all = all;
    }

    /** Another case has ended. */
    void told(CaseResult result) {
        done++;
        bad += result.verdict() == Verdict.FAILED || result.verdict() == Verdict.BROKEN ? 1 : 0;
        long now = System.nanoTime();
        if (shown && now - last > 50_000_000) {
            last = now;
            String failing = bad == 0 ? "" : ", " + bad + " not passed";
            screen.err().print("\r  " + done + " of " + all + " cases" + failing + "\033[K");
            screen.err().flush();
        }
    }

    /** Takes the line away. */
    void finished() {
        if (shown && last > 0) {
            screen.err().print("\r\033[K");
            screen.err().flush();
        }
    }
}
