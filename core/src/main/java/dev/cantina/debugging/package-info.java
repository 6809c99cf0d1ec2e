/**
 * The debugger: breakpoints, stepping, stop reasons, looking and changing. It knows no terminal.
 *
 * <p>In: a session that it probes, and a {@link dev.cantina.debugging.StopListener} that says how
 * to go on. Out: a {@link dev.cantina.debugging.Stop} at a time. Nothing above {@code observe} is
 * imported.
 *
 * <p>Everything happens on the session's thread: while a stop is shown, the run stands still inside
 * the listener's call, and frames, variables and tables may be read and changed there, and only
 * there. A frame is good until the listener says how to go on.
 */
package dev.cantina.debugging;
