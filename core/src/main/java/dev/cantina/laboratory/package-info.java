/**
 * Tries what a person would not think of: the same run, again and again, with something gone wrong
 * in it each time. In comes something that can be run from the same rows; out go findings. What is
 * tried and what is not is counted; nothing of it stays.
 */
package dev.cantina.laboratory;
