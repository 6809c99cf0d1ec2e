/** The Debug Adapter Protocol, on {@link dev.cantina.workbench.DebugSession}. */
package dev.cantina.serve.debug;
