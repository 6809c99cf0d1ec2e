package dev.cantina.nativecode;

import dev.cantina.syntax.Source;
import java.util.List;
import java.util.Set;

/** Reads files in a server's own words without that server. */
public interface OwnReading {
    /**
     * What a file makes.
     *
     * @throws NativeSyntaxException where something in it has no end
     */
    OwnText read(Source source) throws NativeSyntaxException;

    /**
     * The tokens of a stretch of a text that may end anywhere, and may be no whole statement.
     *
     * @return as many as there are before what can't be read
     */
    List<? extends NativeToken> tokens(Source source, int from, int to);

    /** What a routine may name without anybody having declared it. */
    List<NativeVariable> special(OwnText.Unit unit);

    /** Words of the language that stand at the beginning of a statement. */
    List<String> statements();

    /** Words that are never a name where an expression stands. */
    Set<String> reserved();

    /** Whether a name that is a variable's and a column's is the variable's; else it is neither. */
    boolean variablesWin();

    /** Whether one DECLARE begins all declarations of a block. */
    boolean declaresOnce();

    /** Types that the server has. */
    List<String> types();
}
