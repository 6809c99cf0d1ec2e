package dev.cantina.racing;

import dev.cantina.syntax.Span;
import java.util.Optional;

/**
 * A step of a session: what it does between two moments at which others may come before it.
 *
 * @param session from 1
 * @param what the statement as it is written, on one line; of the end of a call, in words
 * @param routine in which it stands
 * @param place where it stands; empty for the end of a call
 * @param footprint what it touches
 * @param rows how many rows it has changed or given; -1 where it has none
 * @param waited whether it waited for a lock of another session
 * @param raised the SQLSTATE that it has ended in; empty where it has not
 */
public record RaceStep(
        int session,
        String what,
        String routine,
        Optional<Span> place,
        Footprint footprint,
        long rows,
        boolean waited,
        String raised) {
    RaceStep done(long count, boolean hasWaited, String state) {
        return new RaceStep(session, what, routine, place, footprint, count, hasWaited, state);
    }

    /** Whether it is the end of the call. */
    public boolean isEnd() {
        return place.isEmpty() && !what.equals(RaceSession.BEGINS);
    }
}
