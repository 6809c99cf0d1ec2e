/**
 * A project as an editor has it: with text that is not saved, checked routine by routine as it is
 * typed, and asked what stands where.
 */
package dev.cantina.editing;
