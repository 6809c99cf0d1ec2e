package dev.cantina.serve.debug;

import dev.cantina.runtime.PassingProbe;
import dev.cantina.runtime.Probe;

/** The probe of a session that may be watched for a time: it hands on what it hears, or nothing. */
final class AttachableProbe extends PassingProbe {
    private static final Probe NOBODY =
            new Probe() {
                @Override
                public boolean listens() {
                    return false;
                }
            };

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
    protected Probe target() {
        return target;
    }

    /** Who comes later may want to hold it. */
    @Override
    public Detail detail() {
        return Detail.HOLD;
    }

    @Override
    public boolean wantsData() {
        return target != NOBODY && target.wantsData();
    }
}
