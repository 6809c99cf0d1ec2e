/** What came of a suite, in open report formats. */
package dev.cantina.report;
