package dev.cantina.serve.debug;

import dev.cantina.workbench.DebugSession;

/** Says what a run came to, as it is shown in a terminal. */
public interface EndingText {
    String of(DebugSession.Ending ending);
}
