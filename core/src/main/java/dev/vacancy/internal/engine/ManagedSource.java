package dev.vacancy.internal.engine;

import dev.vacancy.TransactionSource;
import dev.vacancy.internal.running.OpenTransaction;
import java.sql.Connection;
import java.util.Optional;

/** The application's transactions, as the engine asks about them. */
record ManagedSource(TransactionSource source) implements OpenTransaction {
    static ManagedSource by(TransactionSource source) {
        return new ManagedSource(source);
    }

    @Override
    public Optional<Connection> connection() {
        return source.open();
    }

    @Override
    public boolean isReadOnly() {
        return source.isReadOnly();
    }
}
