package dev.vacancy.internal.engine;

import java.util.function.Supplier;

/** Is around each piece of work, to measure or trace it. Implemented by our own modules. */
public interface WorkObserver {
    /** Nobody looks. */
    WorkObserver NOBODY = new WorkObserver() {
        @Override
        public <T> T around(String work, String table, Supplier<T> supplier) {
            return supplier.get();
        }
    };

    /**
     * Has a piece of work done.
     *
     * @param work {@code plan}, {@code delete}, {@code run}, {@code trace} or {@code follow.up}
     * @param table the table of the selection, empty where there is none
     * @param supplier does it, and is called exactly once
     * @param <T> what comes of it
     * @return what the supplier gives
     */
    <T> T around(String work, String table, Supplier<T> supplier);
}
