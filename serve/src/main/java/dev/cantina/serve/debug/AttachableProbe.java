package dev.cantina.serve.debug;

import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Performed;
import dev.cantina.runtime.Probe;
import dev.cantina.types.Condition;

/** The probe of a session that may be watched for a time: it hands on what it hears, or nothing. */
final class AttachableProbe implements Probe {
    private static final Probe NOBODY = new Probe() {};

    private Probe target = NOBODY;

    /** From now on this hears of it. */
    void watch(Probe by) {
        target = by;
    }

    /** From now on nobody hears of it. */
    void leave() {
        target = NOBODY;
    }

    @Override
    public void counted(Frame frame, int statement, long times) {
        target.counted(frame, statement, times);
    }

    @Override
    public void passed(Frame frame, long[] times) {
        target.passed(frame, times);
    }

    @Override
    public void cutShort(Frame frame) {
        target.cutShort(frame);
    }

    @Override
    public void entered(Frame frame) {
        target.entered(frame);
    }

    @Override
    public void reached(Frame frame) {
        target.reached(frame);
    }

    @Override
    public boolean wantsData() {
        return target != NOBODY && target.wantsData();
    }

    @Override
    public void performing(Frame frame, Performed performed) {
        target.performing(frame, performed);
    }

    @Override
    public void performed(Frame frame, Performed performed) {
        target.performed(frame, performed);
    }

    @Override
    public void said(String message) {
        target.said(message);
    }

    @Override
    public void ending(Frame frame) {
        target.ending(frame);
    }

    @Override
    public void left(Frame frame, Condition condition) {
        target.left(frame, condition);
    }

    @Override
    public void raised(Frame frame, Condition condition) {
        target.raised(frame, condition);
    }
}
