package dev.vacancy.internal.store;

import java.util.ArrayList;
import java.util.List;

/**
 * So many of a longer list, from somewhere on.
 *
 * @param <T> what stands in it
 * @since 0.1
 */
public final class Part<T> {
    private final int most;
    private final List<T> list = new ArrayList<>();
    private int skipped;

    /**
     * Begins one.
     *
     * @param skipped how many come before, 0 or more
     * @param most how many there are at most
     */
    public Part(int skipped, int most) {
        this.skipped = skipped;
        this.most = most;
    }

    /**
     * Takes the next one, if it stands there.
     *
     * @param next of the longer list
     */
    public void add(T next) {
        if (skipped > 0) {
            skipped--;
        } else if (!isFull()) {
            list.add(next);
        }
    }

    /** {@return whether nothing more fits} */
    public boolean isFull() {
        return list.size() >= most;
    }

    /** {@return what stands there} */
    public List<T> list() {
        return list;
    }
}
