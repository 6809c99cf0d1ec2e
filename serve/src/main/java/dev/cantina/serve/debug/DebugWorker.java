package dev.cantina.serve.debug;

import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.LinkedBlockingQueue;

/**
 * The thread that a debugging belongs to: it does what an editor asks for before the run begins and
 * while it stands, and sets breakpoints between two statements while it goes on.
 */
final class DebugWorker {
    private enum State {
        /** It does what it is asked for. */
        OPEN,
        RUNNING,
        ENDED
    }

    private final LinkedBlockingQueue<Runnable> tasks = new LinkedBlockingQueue<>();
    private State state = State.OPEN;
    private Debugger debugger;
    private Resume resume;
    private boolean begun;
    private Runnable nudge = () -> {};

    /** Is told when something is to be done between two statements, and none may come soon. */
    void nudges(Runnable whoever) {
        nudge = whoever;
    }

    /** Something that is asked, with its answer. */
    private static <T> Runnable task(CompletableFuture<T> answer, Callable<T> work) {
        return () -> {
            try {
                answer.complete(work.call());
            } catch (Exception e) {
                answer.completeExceptionally(Refusal.of(e));
            }
        };
    }

    /** Has something done that needs a run that stands. */
    <T> CompletableFuture<T> ask(Callable<T> work) {
        CompletableFuture<T> answer = new CompletableFuture<>();
        synchronized (this) {
            if (state == State.OPEN) {
                tasks.add(task(answer, work));
                return answer;
            }
        }
        answer.completeExceptionally(
                Refusal.of(
                        new DebugException(
                                state == State.RUNNING
                                        ? "the run goes on; pause it first"
                                        : "the run is over")));
        return answer;
    }

    /** Has something done as soon as it can be: between two statements, where the run goes on. */
    <T> CompletableFuture<T> soon(Callable<T> work) {
        CompletableFuture<T> answer = new CompletableFuture<>();
        synchronized (this) {
            if (state == State.RUNNING) {
                debugger.meanwhile(task(answer, work));
            } else if (state == State.OPEN) {
                tasks.add(task(answer, work));
                return answer;
            } else {
                task(answer, work).run();
                return answer;
            }
        }
        nudge.run();
        return answer;
    }

    /** Does what it is asked for, until {@link #begin}. */
    void untilBegun(Debugger made) {
        debugger = made;
        while (!begun) {
            takeOne();
        }
    }

    /** The run may begin, and may stand before whoever has said so hears the answer. */
    synchronized void begin() {
        state = State.RUNNING;
        begun = true;
    }

    /**
     * Does what it is asked for, until it is said how to go on.
     *
     * @param announce tells that it stands
     */
    Resume stand(Runnable announce) {
        resume = null;
        synchronized (this) {
            state = State.OPEN;
        }
        debugger.catchUp();
        announce.run();
        while (resume == null) {
            takeOne();
        }
        return resume;
    }

    private void takeOne() {
        try {
            tasks.take().run();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            begun = true;
            resume = Resume.of(Resume.Kind.QUIT);
        }
    }

    /** In something that is asked: how the run goes on. */
    void goOn(Resume how) {
        resume = how;
        synchronized (this) {
            state = State.RUNNING;
        }
    }

    /** Ends a run that stands; from any thread. */
    void quit() {
        release(Resume.Kind.QUIT);
    }

    /** Has a run that stands go on so; from any thread. */
    void release(Resume.Kind how) {
        tasks.add(
                () -> {
                    begun = true;
                    goOn(Resume.of(how));
                });
    }

    /** Nothing runs any more. */
    void ended() {
        synchronized (this) {
            state = State.ENDED;
        }
        if (debugger != null) {
            debugger.catchUp();
        }
        for (Runnable task = tasks.poll(); task != null; task = tasks.poll()) {
            task.run();
        }
    }
}
