package dev.cantina.deploy;

import dev.cantina.check.BoundExpression;

/** Tells what an author wrote from what the binder added. */
final class Written {
    private Written() {}

    /** Without the conversions that nobody wrote. */
    static BoundExpression bare(BoundExpression e) {
        BoundExpression bare = e;
        while (bare instanceof BoundExpression.Convert convert && !isCast(convert)) {
            bare = convert.operand();
        }
        return bare;
    }

    /** Whether it is a CAST that somebody wrote. */
    static boolean isCast(BoundExpression.Convert convert) {
        if (convert.span().equals(convert.operand().span())) {
            return false;
        }
        // The whole of it is CAST(…), and not only its beginning.
        String text = convert.span().text();
        if (!text.matches("(?is)CAST\\s*\\(.*")) {
            return false;
        }
        int depth = 0;
        boolean quoted = false;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            quoted ^= c == '\'';
            depth += quoted ? 0 : c == '(' ? 1 : c == ')' ? -1 : 0;
            if (c == ')' && !quoted && depth == 0) {
                return i == text.length() - 1;
            }
        }
        return false;
    }
}
