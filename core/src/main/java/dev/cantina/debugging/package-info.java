/**
 * The debugger: breakpoints, stepping, stop reasons, looking and changing, going back. It knows no
 * terminal.
 *
 * <p>In: a session that it probes, and a {@link dev.cantina.debugging.StopListener} that says how
 * to go on. Out: a {@link dev.cantina.debugging.Stop} at a time. Nothing above {@code observe} is
 * imported.
 *
 * <p><b>Threads.</b> Everything happens on the session's thread: while a stop is shown, the run
 * stands still inside the listener's call, and frames, variables and tables may be read and changed
 * there, and only there. {@link dev.cantina.debugging.Debugger#breakIn} alone may be called from
 * any thread. A listener cannot ask for two steps: its one answer says how the run goes on, and the
 * next stop, or the end of the run, follows from that.
 *
 * <p><b>Lifetime.</b> A {@link dev.cantina.runtime.Frame} and a stop are good until the listener
 * answers. Going back ends the run and begins another, so no frame outlives it; breakpoints, and
 * what was changed by hand, belong to the debugger and go on. What is looked at between a stop and
 * its answer leaves no trace in the run: not in its count of statements, its time or its
 * diagnostics area.
 *
 * <p><b>Going back</b> relies on the run being the same each time: {@link
 * dev.cantina.debugging.DebugRun} begins each with the same rows, clock and random numbers. A
 * {@link dev.cantina.debugging.ExecutionPoint} is found again by counting statements.
 */
package dev.cantina.debugging;
