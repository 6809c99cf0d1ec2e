/**
 * Advice: one small class a rule, over bound routines and facts. Nothing but {@code project}, which
 * checks, imports it: what is advised is never what is compiled by.
 */
package dev.cantina.advice;
