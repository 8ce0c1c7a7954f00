package dev.vacancy.internal.gate;

import dev.vacancy.By;
import dev.vacancy.internal.planning.Gated;
import java.util.Optional;

/**
 * Proof that a plan has come through the gate. Only the gate gives one, and nothing is carried out without it.
 *
 * @since 0.1
 */
public final class Passage {
    private final Gated plan;
    private final Optional<By> colleague;

    Passage(Gated plan, Optional<By> colleague) {
        this.plan = plan;
        this.colleague = colleague;
    }

    /**
     * Sees to it that this is the proof for a plan, or for one that it is a part of.
     *
     * @param done what is about to be carried out
     * @throws IllegalStateException when it is the proof for another one
     */
    public void require(Gated done) {
        if (!plan.covers(done)) {
            throw new IllegalStateException("Another plan has come through the gate than the one that is carried out");
        }
    }

    /**
     * Returns what has come through.
     *
     * @return the plan
     */
    public Gated plan() {
        return plan;
    }

    /**
     * Returns who it is done for.
     *
     * @return the one who asks
     */
    public By by() {
        return plan.proposal().by();
    }

    /**
     * Returns who has agreed besides.
     *
     * @return the colleague's name, or empty
     */
    public Optional<String> colleague() {
        return colleague.map(By::actor);
    }
}
