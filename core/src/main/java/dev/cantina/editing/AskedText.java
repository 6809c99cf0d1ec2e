package dev.cantina.editing;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.List;
import java.util.Optional;

/** A text that an editor has open, and what can be asked of it. Offsets are of that text. */
public interface AskedText {
    /** What there is to say of a name. */
    record Hovered(Span span, Described described) {}

    /**
     * The head of a routine whose arguments are typed.
     *
     * @param parameters each as it stands in the head
     */
    record Signature(String head, String text, List<String> parameters) {}

    /**
     * The call whose arguments are typed.
     *
     * @param argument which one it is, from 0
     */
    record Call(List<Signature> signatures, int argument) {}

    /**
     * A routine that can be run from here.
     *
     * @param parameters those that are handed in, with their types
     */
    record Callable(Span at, String name, List<String> parameters) {}

    /** What a name of the text is, for its colour. */
    record Marked(Span span, Mark mark, boolean declares, boolean fixed) {}

    /** What a name can be. */
    enum Mark {
        VARIABLE,
        PARAMETER,
        FUNCTION,
        TABLE,
        COLUMN,
        MODULE,
        LABEL
    }

    Project project();

    /** The text, under its name in the project. */
    Source source();

    Optional<Hovered> hover(int offset);

    /** Where what is named is declared: more than one place of routines that share a name. */
    List<Span> definitions(int offset);

    /** All places of what is named, that of its declaration among them. */
    List<Span> references(int offset);

    List<Completion.Offer> completion(int offset);

    Optional<Call> call(int offset);

    List<Outline> outline();

    /** First and last line of what can be folded, from 1; 1 behind them for a comment. */
    List<int[]> folds();

    List<Callable> callables();

    /** The places of variables in the routine around an offset, as far as that offset. */
    List<Span> variables(int offset);

    /** The text with its lines as far in as they should be; empty where it can't be read. */
    Optional<String> laid();

    /** Which parameter each argument of a call is for, where the call does not say it. */
    List<ArgumentHints.Hint> argumentHints();

    /**
     * The name at an offset, where it can be another.
     *
     * @throws ProjectException where it can't, with the reason
     */
    Span renamable(int offset) throws ProjectException;

    /**
     * What another name comes to.
     *
     * @throws ProjectException where it would change what something means; the message says what
     */
    Rename.Change rename(int offset, String name) throws ProjectException;

    /** All names of the text whose meaning is known. */
    List<Marked> names();
}
