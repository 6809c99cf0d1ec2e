package dev.cantina.workbench;

import dev.cantina.debugging.Debugger;

/** What is debugged: a run that was begun for it, or those of a program that somebody runs. */
public interface Debuggee {
    /** The debugger of its runs; null before they are made ready. */
    Debugger debugger();

    /** Stops at the next statement; asked for twice, ends what runs. From any thread. */
    void breakIn();

    /** Ends whatever runs, as soon as it can be ended. From any thread. */
    void interrupt();
}
