package dev.cantina.runtime;

/** An expression that can be worked out in a frame, again and again. */
public abstract class ProbeCode extends Frame {
    protected abstract Object evaluate(Frame frame);

    /**
     * The value, with the variables as they stand.
     *
     * @throws RaisedException where it can't be evaluated
     */
    public final Object value(Frame frame) {
        return value(frame, frame.session);
    }

    /** The value of an expression that stands in no routine. */
    final Object value(Session within) {
        return value(null, within);
    }

    private Object value(Frame frame, Session within) {
        session = within;
        try {
            return evaluate(frame);
        } catch (RuntimeException | StackOverflowError e) {
            throw within.raised(frame, e);
        }
    }

    @Override
    public final void take(Object[] arguments) {
        throw new UnsupportedOperationException();
    }

    @Override
    public final Object[] give() {
        throw new UnsupportedOperationException();
    }

    @Override
    public final int run() {
        throw new UnsupportedOperationException();
    }
}
