/**
 * What a person works with, whatever it is shown by: a terminal, or an editor. A face asks, and
 * shows what it is given; it computes nothing.
 */
package dev.cantina.workbench;
