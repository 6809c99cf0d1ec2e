/** First versions of routines, calls and cases, to be judged and finished by a person. */
package dev.cantina.drafting;
