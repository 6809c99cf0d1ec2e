package dev.cantina.runtime;

import dev.cantina.types.Condition;

/** Hands all that it hears on to another probe; what stands before a probe overrides some of it. */
public abstract class PassingProbe implements Probe {
    /** The one that hears it just now. */
    protected abstract Probe target();

    @Override
    public Detail detail() {
        return target().detail();
    }

    @Override
    public void counted(Frame frame, int statement, long times) {
        target().counted(frame, statement, times);
    }

    @Override
    public void passed(Frame frame, long[] times) {
        target().passed(frame, times);
    }

    @Override
    public void cutShort(Frame frame) {
        target().cutShort(frame);
    }

    @Override
    public void entered(Frame frame) {
        target().entered(frame);
    }

    @Override
    public void reached(Frame frame) {
        target().reached(frame);
    }

    @Override
    public boolean listens() {
        return target().listens();
    }

    @Override
    public boolean wantsData() {
        return target().wantsData();
    }

    @Override
    public void performing(Frame frame, Performed performed) {
        target().performing(frame, performed);
    }

    @Override
    public void performed(Frame frame, Performed performed) {
        target().performed(frame, performed);
    }

    @Override
    public void said(String message) {
        target().said(message);
    }

    @Override
    public void ending(Frame frame) {
        target().ending(frame);
    }

    @Override
    public void left(Frame frame, Condition condition) {
        target().left(frame, condition);
    }

    @Override
    public void raised(Frame frame, Condition condition) {
        target().raised(frame, condition);
    }
}
