package dev.vacancy.internal.retiring;

import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.StalePlanException;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Retiree;
import dev.vacancy.internal.dialect.SchemaObject;
import dev.vacancy.internal.dialect.Shape;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.retiring.Script.Change;
import dev.vacancy.internal.retiring.Script.Kept;
import dev.vacancy.retirement.Dependent.Kind;
import dev.vacancy.retirement.Retired.State;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.locks.LockSupport;

/** Carries out one step of a retirement, statement by statement, so that it can be taken back wherever it ends. */
final class RetirementRun {
    private static final Duration TURN = Duration.ofMillis(50);

    private final Connection connection;
    private final Dialect dialect;
    private final RetirementTable stored;
    private final PresentState present;
    private final PlannedRetirement plan;
    private final Duration lockWait;
    private final Map<String, String> leftOut = new LinkedHashMap<>();

    RetirementRun(Connection connection, Dialect dialect, Passage passage, Duration lockWait) {
        this.connection = connection;
        this.dialect = dialect;
        this.stored = new RetirementTable(dialect);
        this.present = new PresentState(dialect, connection);
        this.plan = (PlannedRetirement) passage.plan();
        this.lockWait = lockWait;
        passage.require(plan);
    }

    List<String> leftOut() {
        return List.copyOf(leftOut.values());
    }

    /** Sets it aside. Where the database commits each change, a failure in between takes back what was done. */
    void setAside() throws SQLException {
        stored.begin(connection, plan);
        List<Change> changes = plan.script().changes();
        int begun = 0;
        try {
            for (Change change : changes) {
                stored.progress(connection, plan.id(), ++begun);
                execute(change.forth());
            }
        } catch (SQLException | RuntimeException failure) {
            if (dialect.commitsAtDdl()) {
                takeBack(begun, failure);
            }
            throw failure;
        }
        stored.setText(connection, plan.id(), present.textNow(plan.retiree(), plan.script()));
        stored.move(connection, plan.id(), State.SET_ASIDE);
    }

    /** The last change was refused, so only those before it were made. */
    private void takeBack(int begun, Exception failure) {
        try {
            undo(begun - 1, false);
            stored.forget(connection, plan.id());
            connection.commit();
        } catch (SQLException | RuntimeException worse) {
            // It stays written down as begun, and can be brought back later.
            failure.addSuppressed(worse);
        }
    }

    /** Undoes changes from the last one on, of which perhaps nobody knows whether it was made. */
    private void undo(int begun, boolean unknown) throws SQLException {
        List<Change> changes = plan.script().changes();
        for (int i = begun; i > 0; i--) {
            stored.progress(connection, plan.id(), i);
            Change change = changes.get(i - 1);
            if (i == begun && unknown) {
                for (String sql : change.back()) {
                    tolerantly(change.object(), sql);
                }
            } else {
                restand(change.object(), change.back());
            }
        }
    }

    /** What wasn't done can't be undone; what really is there is looked at in the end. */
    private void tolerantly(String object, String sql) throws SQLException {
        try {
            restand(object, List.of(sql));
        } catch (SQLException undone) {
            if (dialect.isLockFailure(undone)) {
                throw undone;
            }
        }
    }

    /** Drops what is set aside, once its files are on the disk. */
    StoredRetirement.Files drop(StoredRetirement of) throws SQLException {
        if (!present.isAside(of.retiree())) {
            stored.move(connection, plan.id(), State.DROPPED);
            return of.files().orElseThrow();
        }
        Table table = present.tableOf(of.retiree(), of.retiree().tableAside());
        Optional<Column> aside = of.retiree()
                .column()
                .map(name -> PresentState.column(table, of.retiree().aside()));
        StoredRetirement.Files files = ContentFiles.write(
                plan.files(),
                plan.script().whole(),
                plan.name() + ", dropped on " + plan.madeAt() + " as run " + plan.id(),
                line -> new RetiredContent(dialect, connection)
                        .read(table, aside, of.retiree().column(), line));
        try {
            long held = aside.isEmpty() ? plan.records() : aside.get().generated() ? 0 : plan.filled();
            if (files.records() != held) {
                throw new StalePlanException(List.of(files.records() + " instead of " + held + " records"));
            }
            stored.setFiles(connection, plan.id(), files);
            stored.move(connection, plan.id(), State.DROPPING);
            execute(of.script().removal());
            stored.setText(connection, plan.id(), present.textNow(of.retiree(), of.script()));
            stored.move(connection, plan.id(), State.DROPPED);
            rehearse(of, files);
            return files;
        } catch (SQLException | RuntimeException failure) {
            if (!dialect.commitsAtDdl() || failure instanceof StalePlanException) {
                new ContentFiles(files).remove();
            }
            throw failure;
        }
    }

    /**
     * Brings it back on trial before the drop is committed, and drops it again. The values of a column stay out of that: each of them would be a
     * change of a record that goes on.
     */
    private void rehearse(StoredRetirement of, StoredRetirement.Files files) throws SQLException {
        if (dialect.commitsAtDdl()) {
            return;
        }
        Savepoint dropped = connection.setSavepoint();
        try {
            remake(of, new ContentFiles(files), of.retired().column().isEmpty());
        } catch (SQLException | VacancyException refused) {
            if (refused instanceof SQLException busy && dialect.isLockFailure(busy)) {
                throw busy;
            }
            if (refused instanceof SQLException taken && isNameTaken(taken)) {
                // Others of its name have come since. Whoever brings it back renames those first.
                connection.rollback(dropped);
                leftOut.clear();
                return;
            }
            InvalidRequestException irreversible = new InvalidRequestException(
                    FailureCode.IMAGE_NOT_WHOLE,
                    plan.name() + " could not come back from its files: "
                            + Objects.requireNonNullElse(refused.getMessage(), "")
                                    .replaceFirst("\\.?\\s*$", "."),
                    "Nothing was dropped. Change what it names, or drop it by hand if it isn't needed.");
            irreversible.addSuppressed(refused);
            throw irreversible;
        }
        connection.rollback(dropped);
        leftOut.clear();
    }

    /** Whether there is another one of a name (PostgreSQL's error codes: duplicate column, table, object, function); SQLite has no code for it. */
    private static boolean isNameTaken(SQLException refusal) {
        return Set.of("42701", "42P07", "42710", "42723").contains(String.valueOf(refusal.getSQLState()))
                || String.valueOf(refusal.getMessage()).contains("already exists");
    }

    /** Brings back what is set aside, or was only begun. */
    void back(StoredRetirement of) throws SQLException {
        boolean begun = of.retired().state() == State.BEGUN;
        int done = begun ? of.done() : of.script().changes().size();
        if (begun) {
            undo(done, true);
        } else {
            undoWhole(done);
        }
        if (dialect.commitsAtDdl()) {
            standAgain(of);
        }
        prove(of);
        stored.move(connection, plan.id(), State.RETURNED);
    }

    /** Whoever began to drop it, and died, may have taken away what stands on it. */
    private void standAgain(StoredRetirement of) throws SQLException {
        List<SchemaObject> now =
                dialect.reshaping().shape(connection, of.retiree()).objects();
        for (Kept object : of.script().finish()) {
            if (!object.name().isEmpty()
                    && !leftOut.containsKey(object.title())
                    && now.stream().noneMatch(object::isSame)) {
                restand(object.title(), object.creation());
            }
        }
    }

    /** Every change was made; where one can't be undone, those before it are made once more. */
    private void undoWhole(int done) throws SQLException {
        List<Change> changes = plan.script().changes();
        int place = done;
        try {
            for (; place > 0; place--) {
                stored.progress(connection, plan.id(), place);
                stored.move(connection, plan.id(), State.BEGUN);
                restand(changes.get(place - 1).object(), changes.get(place - 1).back());
            }
        } catch (SQLException | RuntimeException failure) {
            if (dialect.commitsAtDdl()) {
                again(place, done, failure);
            }
            throw failure;
        }
    }

    private void again(int place, int done, Exception failure) {
        try {
            List<Change> changes = plan.script().changes();
            for (String sql : changes.get(place - 1).forth()) {
                tolerantly("", sql);
            }
            for (int i = place; i < done; i++) {
                execute(changes.get(i).forth());
            }
            stored.progress(connection, plan.id(), done);
            stored.move(connection, plan.id(), State.SET_ASIDE);
            connection.commit();
        } catch (SQLException | RuntimeException worse) {
            failure.addSuppressed(worse);
        }
    }

    /** Makes again what was dropped, and fills it. */
    void make(StoredRetirement of) throws SQLException {
        ContentFiles files = new ContentFiles(of.files().orElseThrow());
        files.verify();
        if (of.retired().state() == State.RETURNING) {
            removeHalf(of);
        }
        stored.move(connection, plan.id(), State.RETURNING);
        boolean ours = false;
        try {
            execute(of.script().making());
            ours = true;
            writeDownThatItIsOurs();
            complete(of, files, true);
        } catch (SQLException | RuntimeException failure) {
            if (dialect.commitsAtDdl()) {
                takeAway(of, ours, failure);
            }
            throw failure;
        }
        stored.move(connection, plan.id(), State.RETURNED);
    }

    private void remake(StoredRetirement of, ContentFiles files, boolean filled) throws SQLException {
        execute(of.script().making());
        complete(of, files, filled);
    }

    /** Fills what was made, and has everything stand on it again. */
    private void complete(StoredRetirement of, ContentFiles files, boolean filled) throws SQLException {
        Table table = present.tableOf(of.retiree(), of.retiree().table());
        Optional<Column> column = of.retiree().column().map(name -> PresentState.column(table, name));
        if (filled) {
            fill(of, table, column, files);
        }
        long[] counts =
                present.counts(of.retiree(), of.retiree().table(), of.retiree().column());
        boolean required = counts[0] == counts[1];
        for (Kept object : of.script().finish()) {
            if (required || object.kind() != Kind.NOT_NULL) {
                restand(object.title(), object.creation());
            } else {
                leftOut.put(object.title(), object.title() + ", as records that came since have no value");
            }
        }
        prove(of);
    }

    /** That a value comes back is no change of its record, so no trigger sees it. */
    private void fill(StoredRetirement of, Table table, Optional<Column> column, ContentFiles files)
            throws SQLException {
        List<SchemaObject> watching = column.isEmpty()
                ? List.of()
                : dialect.reshaping()
                        .watching(
                                connection, of.retiree().schema(), of.retiree().table());
        for (SchemaObject trigger : watching) {
            execute(trigger.removal());
        }
        boolean defaults =
                present.counts(of.retiree(), of.retiree().table(), of.retiree().column())[1] > 0;
        new RetiredContent(dialect, connection).fill(table, column, defaults, files);
        for (SchemaObject trigger : watching) {
            execute(trigger.creation());
        }
    }

    /** What has its name is ours from now on, and may be taken away again if nobody comes to the end. */
    private void writeDownThatItIsOurs() throws SQLException {
        stored.progress(connection, plan.id(), StoredRetirement.MADE);
        if (dialect.commitsAtDdl()) {
            connection.commit();
        }
    }

    private void takeAway(StoredRetirement of, boolean ours, Exception failure) {
        try {
            if (ours) {
                removeHalf(of);
            }
            stored.progress(connection, plan.id(), of.script().changes().size());
            stored.move(connection, plan.id(), State.DROPPED);
            connection.commit();
        } catch (SQLException | RuntimeException worse) {
            failure.addSuppressed(worse);
        }
    }

    /** What was made by half goes again; what had gone along, and came back already, comes first. */
    private void removeHalf(StoredRetirement of) throws SQLException {
        if (!present.isBack(of.retiree())) {
            return;
        }
        for (Change change :
                of.script().changes().subList(0, of.script().changes().size() - 1)) {
            for (String sql : change.forth()) {
                tolerantly("", sql);
            }
        }
        if (present.isBack(of.retiree())) {
            Shape half = dialect.reshaping()
                    .shape(
                            connection,
                            new Retiree(
                                    of.retiree().schema(),
                                    of.retiree().table(),
                                    of.retiree().column(),
                                    of.retiree().column().orElse(of.retiree().table())));
            execute(half.removal());
        }
    }

    /** Makes something again; what records that came or went meanwhile don't meet any more is left out, and told. */
    private void restand(String object, List<String> creation) throws SQLException {
        Savepoint before = dialect.commitsAtDdl() ? null : connection.setSavepoint();
        try {
            execute(creation);
        } catch (SQLException refused) {
            if (object.isEmpty() || !isViolation(refused)) {
                throw refused;
            }
            if (before != null) {
                connection.rollback(before);
            }
            leftOut.put(
                    object, object + ", as records that came or went meanwhile don't meet it: " + refused.getMessage());
        }
    }

    /** Whether records don't meet a constraint (ISO/IEC 9075-2, section 24.1: class 23). */
    private static boolean isViolation(SQLException failure) {
        return failure.getSQLState() != null && failure.getSQLState().startsWith("23");
    }

    /** Whatever stood on it stands there again, just as it was. */
    private void prove(StoredRetirement of) throws SQLException {
        List<SchemaObject> now =
                dialect.reshaping().shape(connection, of.retiree()).objects();
        for (Kept object : of.script().kept()) {
            if (!leftOut.containsKey(object.title()) && now.stream().noneMatch(object::isSame)) {
                throw new DatabaseException(
                        "make the " + object.title() + " as it was",
                        "It was: " + object.definition(),
                        new SQLException("Of " + of.retired().name() + " there are "
                                + now.stream()
                                        .filter(other -> other.kind() == object.kind())
                                        .map(SchemaObject::definition)
                                        .toList()));
            }
        }
        dialect.reshaping()
                .violations(connection, of.retiree())
                .forEach(violation -> leftOut.put(violation, violation));
    }

    /** Runs statements; where each commits, one that meets a lock waits for it in turns, in which nobody has to wait behind it. */
    private void execute(List<String> statements) throws SQLException {
        for (String sql : statements) {
            long end = System.nanoTime() + lockWait.toNanos();
            boolean done = false;
            while (!done) {
                try (Statement statement = connection.createStatement()) {
                    statement.execute(sql);
                    done = true;
                } catch (SQLException failure) {
                    boolean again = dialect.commitsAtDdl() && dialect.isLockFailure(failure) && System.nanoTime() < end;
                    if (!again) {
                        throw failure;
                    }
                    LockSupport.parkNanos(TURN.toNanos());
                }
            }
        }
    }
}
