package dev.cantina.editing;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeToken;
import dev.cantina.nativecode.OwnReading;
import dev.cantina.nativecode.OwnText;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import java.util.List;
import java.util.Optional;

/**
 * Sets the lines of routines as far in as the blocks that they stand in want it. What the author
 * has chosen stays: where lines break, how words are written, how the lines of a statement stand to
 * its first, how wide a step is. Comments stay where they are; blanks at the ends of lines go, and
 * so do empty lines beside others.
 */
public final class Layout {
    private Layout() {}

    /** A file's text laid out; empty where it can't be read, and nothing is known of its blocks. */
    public static Optional<String> of(ParsedFile file) {
        if (file.problems().stream().anyMatch(p -> p.isError()) || !file.faults().isEmpty()) {
            return Optional.empty();
        }
        String written = file.source().written();
        String laid = StandardLines.of(file.source()).written();
        // Whatever happens, no word of the author's is lost.
        return Optional.of(
                isSame(written, laid) && words(written).equals(words(laid)) ? laid : written);
    }

    private static List<String> words(String text) {
        return SqlWords.of(text).all().stream().map(SqlWords.Word::text).toList();
    }

    /**
     * The same of a file in a server's own words: its routines whose bodies can be read are laid
     * out, and all else stays as it is.
     */
    public static String of(OwnText file, OwnReading reading) {
        String written = file.source().written();
        String laid = OwnLines.of(file).written();
        return isSame(written, laid) && words(file).equals(words(laid, reading)) ? laid : written;
    }

    /** The routines with a body that stay as they are. */
    public static List<OwnText.Unit> leftAlone(OwnText file) {
        return file.units().stream()
                .filter(u -> u.body().isPresent() && u.kind() != OwnText.Kind.PACKAGE)
                .filter(u -> !OwnLines.isLaid(u))
                .toList();
    }

    private static List<String> words(OwnText text) {
        return text.tokens().stream().map(NativeToken::text).toList();
    }

    private static List<String> words(String text, OwnReading reading) {
        try {
            return words(reading.read(new Source("", text)));
        } catch (NativeSyntaxException e) {
            return List.of();
        }
    }

    private static boolean isSame(String before, String after) {
        return before.replaceAll("\\s+", "").equals(after.replaceAll("\\s+", ""));
    }
}
