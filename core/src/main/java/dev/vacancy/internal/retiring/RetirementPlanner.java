package dev.vacancy.internal.retiring;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Retiree;
import dev.vacancy.internal.dialect.SchemaObject;
import dev.vacancy.internal.dialect.Shape;
import dev.vacancy.internal.planning.ConsentDemands;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.request.GivenRetirement;
import dev.vacancy.internal.retiring.PlannedRetirement.Found;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.retirement.Dependent;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.retirement.Retired;
import dev.vacancy.retirement.Retired.State;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.retirement.RetirementStep;
import dev.vacancy.rule.Consent;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;

/** Works out what a step of a retirement would do. */
final class RetirementPlanner {
    private final Planner planner;
    private final Rules rules;
    private final Dialect dialect;
    private final Clock clock;
    private final RetirementTable stored;

    RetirementPlanner(Planner planner, Dialect dialect, Clock clock) {
        this.planner = planner;
        this.rules = planner.rules();
        this.dialect = dialect;
        this.clock = clock;
        this.stored = new RetirementTable(dialect);
    }

    /** Plans to set something aside. */
    PlannedRetirement setAside(Connection connection, Retirement wish, By by) throws SQLException {
        Instant now = clock.instant();
        Instant due = now.atZone(ZoneOffset.UTC).plus(wish.retention()).toInstant();
        return setAside(connection, wish, by, RunNumber.newId(), now, due);
    }

    private PlannedRetirement setAside(Connection connection, Retirement wish, By by, UUID id, Instant at, Instant due)
            throws SQLException {
        Table table = rules.catalog().table(wish.table());
        Optional<Column> column = wish.column().map(table::column);
        String own = column.map(Column::storedName).orElse(table.storedName());
        refuseAside(own);
        Retiree retiree = new Retiree(
                table.schema(), table.storedName(), column.map(Column::storedName), Retiree.nameAside(own, id));
        // Before the records are counted, which is a use as well.
        List<String> use = dialect.reshaping().use(connection, retiree);
        Shape shape = dialect.reshaping().shape(connection, retiree);
        refuseUnknown(wish, shape);
        ThingsOfOurs ours = new ThingsOfOurs(rules, dialect, connection);
        List<Dependent> dependents = new ArrayList<>(dependents(shape, wish.along()));
        dependents.addAll(ours.naming(table, column));
        long[] counts = present(connection).counts(retiree, table.storedName(), column.map(Column::storedName));
        Script script = Script.of(shape, wish.along());
        return planned(
                id,
                RetirementStep.SET_ASIDE,
                table.name(),
                column.map(Column::name),
                retiree,
                wish.along(),
                by,
                at,
                due,
                new Found(
                        counts[0],
                        counts[1],
                        sorted(dependents),
                        use,
                        shape.unknown(),
                        ours.restorable(table),
                        notes(table, column)),
                List.of(),
                script,
                connection);
    }

    private static void refuseAside(String name) {
        if (Retiree.isAside(name)) {
            throw new InvalidRequestException(
                    FailureCode.RUN_STATE,
                    "'" + name + "' is set aside already.",
                    "Drop it by a purge once its retention is over, or bring it back.");
        }
    }

    private static List<String> notes(Table table, Optional<Column> column) {
        if (column.isPresent() && table.identity().isEmpty()) {
            return List.of(
                    table.name() + " has no key: once the column is dropped, no value can be put back to its record.");
        }
        return List.of();
    }

    /** A name that is nobody's is a slip, and what it was meant for would stay in the way. */
    private static void refuseUnknown(Retirement wish, Shape shape) {
        Set<String> unknown = new HashSet<>(wish.along());
        shape.objects().stream()
                .filter(SchemaObject::mayGoAlong)
                .forEach(object -> unknown.remove(object.name().toLowerCase(Locale.ROOT)));
        if (!unknown.isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "Nothing that could go along is called '"
                            + unknown.iterator().next() + "'.",
                    "Name what the plan tells: "
                            + shape.objects().stream()
                                    .filter(SchemaObject::mayGoAlong)
                                    .map(SchemaObject::name)
                                    .toList() + ".");
        }
    }

    private static List<Dependent> dependents(Shape shape, Set<String> along) {
        return shape.objects().stream()
                .map(object -> new Dependent(
                        object.kind(),
                        object.name(),
                        fate(object, along),
                        Optional.of(object.definition()),
                        object.remedy()))
                .toList();
    }

    private static Fate fate(SchemaObject object, Set<String> along) {
        if (!Script.isNamed(object, along)) {
            return object.fate();
        }
        return object.removal().isEmpty()
                        && object.creation().isEmpty()
                        && object.kind() != Dependent.Kind.LINK_FROM_ELSEWHERE
                ? Fate.LEFT_TO_FAIL
                : Fate.GOES_ALONG;
    }

    /** What is in the way comes first. */
    private static List<Dependent> sorted(List<Dependent> dependents) {
        List<Dependent> sorted = new ArrayList<>(dependents);
        sorted.sort((one, other) -> one.fate().compareTo(other.fate()));
        return sorted;
    }

    /** Plans to drop what is set aside. */
    PlannedRetirement drop(Connection connection, UUID id, Path folder, By by) throws SQLException {
        StoredRetirement of = stored.get(connection, id);
        Retired retired = of.retired();
        if (retired.state() != State.SET_ASIDE && retired.state() != State.DROPPING) {
            throw inState(retired, "Only what is set aside can be dropped.");
        }
        Instant now = clock.instant();
        if (!retired.isDue(now)) {
            throw new InvalidRequestException(
                    FailureCode.RUN_STATE,
                    retired.name() + " is kept until " + retired.dueAt() + ".",
                    "Wait until then; what is set aside can be had back in a moment.");
        }
        String name = (retired.column().isPresent() ? of.retiree().table() + "-" : "")
                + of.retiree().aside();
        Path base = folder.toAbsolutePath().normalize();
        String plain = name.replaceAll("[^A-Za-z0-9_-]", "_");
        return drop(connection, of, by, now, free(base, plain));
    }

    /** Names for files that aren't there: whoever died while writing may have left some. */
    private static List<Path> free(Path folder, String name) {
        for (int number = 1; ; number++) {
            String base = number == 1 ? name : name + "-" + number;
            List<Path> files = List.of(folder.resolve(base + ".sql"), folder.resolve(base + ".jsonl"));
            if (files.stream().noneMatch(Files::exists)) {
                return files;
            }
        }
    }

    private PlannedRetirement drop(Connection connection, StoredRetirement of, By by, Instant at, List<Path> files)
            throws SQLException {
        Retiree retiree = of.retiree();
        long[] counts = {0, 0};
        List<Dependent> dependents = new ArrayList<>();
        List<String> notes = new ArrayList<>();
        if (present(connection).isAside(retiree)) {
            refuseChanged(connection, of);
            counts = present(connection).counts(retiree, retiree.tableAside(), PresentState.nameAside(retiree));
            Table table = present(connection).tableOf(retiree, retiree.tableAside());
            unrestorable(table, retiree.column().map(name -> PresentState.column(table, retiree.aside())), dependents);
            Retiree aside = new Retiree(
                    retiree.schema(), retiree.tableAside(), PresentState.nameAside(retiree), retiree.aside());
            // What has come to stand on it since would keep the database from dropping it, or go unseen.
            dialect.reshaping().shape(connection, aside).objects().stream()
                    .filter(object -> object.fate() == Fate.IN_THE_WAY)
                    .forEach(object -> dependents.add(new Dependent(
                            object.kind(),
                            object.name(),
                            Fate.IN_THE_WAY,
                            Optional.of(object.definition()),
                            Optional.of("It has come since " + of.retired().name()
                                    + " was set aside; take it away first."))));
        } else {
            notes.add("It is gone already: only that is written down.");
        }
        return later(
                connection,
                of,
                RetirementStep.DROP,
                by,
                at,
                files,
                new Found(counts[0], counts[1], dependents, List.of(), List.of(), OptionalLong.empty(), notes));
    }

    /** What could not be brought back isn't dropped. */
    private void unrestorable(Table table, Optional<Column> column, List<Dependent> dependents) {
        List<Column> kept = column.map(List::of).orElse(table.columns());
        kept.stream()
                .filter(part -> !part.generated() && !dialect.codec(part).comesBack())
                .forEach(part -> dependents.add(new Dependent(
                        Dependent.Kind.SETTING,
                        part.name(),
                        Fate.IN_THE_WAY,
                        Optional.of(part.typeName()),
                        Optional.of(
                                "Its values can't be made again from text; drop it by hand if they aren't needed."))));
        if (column.isPresent() && table.identity().isEmpty()) {
            dependents.add(
                    new Dependent(
                            Dependent.Kind.PRIMARY_KEY,
                            table.name(),
                            Fate.IN_THE_WAY,
                            Optional.empty(),
                            Optional.of(
                                    "The table has no key, so no value could be put back to its record; drop the column by hand if they aren't needed.")));
        }
    }

    /** Plans to bring back what has retired. */
    PlannedRetirement back(Connection connection, UUID id, By by) throws SQLException {
        StoredRetirement of = stored.get(connection, id);
        if (of.retired().state() == State.RETURNED) {
            throw inState(of.retired(), "There is nothing to bring back.");
        }
        return back(connection, of, by, clock.instant());
    }

    private PlannedRetirement back(Connection connection, StoredRetirement of, By by, Instant at) throws SQLException {
        Retiree retiree = of.retiree();
        List<Dependent> dependents = new ArrayList<>();
        List<String> notes = new ArrayList<>();
        boolean dropped = isDropped(connection, of);
        List<String> now = present(connection).columns(retiree, retiree.table());
        long filled = 0;
        refuseChanged(connection, of);
        if (dropped) {
            StoredRetirement.Files files = of.files().orElseThrow(() -> inState(of.retired(), "It has no files."));
            new ContentFiles(files).verify();
            filled = files.records();
            if (retiree.column().isPresent()) {
                if (!now.isEmpty()) {
                    watching(connection, retiree, dependents);
                }
                notes.add(
                        "Records that came since have no value. If one is wanted, the column comes back without that, and the outcome says so.");
            }
        } else if (present(connection).isAside(retiree)) {
            long[] counts = present(connection).counts(retiree, retiree.tableAside(), PresentState.nameAside(retiree));
            filled = counts[1];
            missing(of, counts, dependents);
        }
        taken(of, now, dropped, isUnderWay(connection, of), dependents);
        if (of.script().kept().stream().anyMatch(RetirementPlanner::constrains)) {
            notes.add(
                    "A key or a foreign key that records don't meet any more, as others have come or gone meanwhile, is left out,"
                            + " and the outcome says so.");
        }
        List<Path> files = of.files().map(StoredRetirement.Files::paths).orElse(List.of());
        return later(
                connection,
                of,
                RetirementStep.RETURN,
                by,
                at,
                files,
                new Found(filled, filled, dependents, List.of(), List.of(), OptionalLong.empty(), notes));
    }

    /** Where a trigger can't be kept still for as long as a column is filled, it would take each value for a change of its record. */
    private void watching(Connection connection, Retiree retiree, List<Dependent> dependents) throws SQLException {
        dialect.reshaping().watching(connection, retiree.schema(), retiree.table()).stream()
                .filter(trigger -> trigger.removal().isEmpty())
                .forEach(trigger -> dependents.add(new Dependent(
                        trigger.kind(),
                        trigger.name(),
                        Fate.IN_THE_WAY,
                        Optional.of(trigger.definition()),
                        Optional.of(
                                "It would see each record change as its value comes back. Drop it first, and make it"
                                        + " again afterwards."))));
    }

    /** Whether what has its name is ours: whoever brought it back didn't come to the end. What holds nothing loses nothing. */
    private boolean isUnderWay(Connection connection, StoredRetirement of) throws SQLException {
        if (of.retired().state() != State.RETURNING || of.done() == StoredRetirement.MADE) {
            return of.retired().state() == State.BEGUN || of.retired().state() == State.RETURNING;
        }
        PresentState present = present(connection);
        Retiree retiree = of.retiree();
        return present.isBack(retiree) && present.counts(retiree, retiree.table(), retiree.column())[1] == 0;
    }

    private static boolean constrains(Script.Kept object) {
        return object.kind() == Dependent.Kind.FOREIGN_KEY
                || object.kind() == Dependent.Kind.LINK_FROM_ELSEWHERE
                || object.kind() == Dependent.Kind.UNIQUE_KEY;
    }

    /** Another one of its name may have come. */
    private static void taken(
            StoredRetirement of, List<String> now, boolean dropped, boolean underWay, List<Dependent> dependents) {
        boolean taken = of.retiree().column().map(now::contains).orElse(!now.isEmpty());
        if (taken && !underWay) {
            dependents.add(new Dependent(
                    Dependent.Kind.SETTING,
                    of.retired().name(),
                    Fate.IN_THE_WAY,
                    Optional.empty(),
                    Optional.of("There is another one of that name by now; rename it first.")));
        }
        if (of.retiree().column().isPresent() && now.isEmpty()) {
            dependents.add(new Dependent(
                    Dependent.Kind.SETTING,
                    of.retired().table(),
                    Fate.IN_THE_WAY,
                    Optional.empty(),
                    Optional.of("The table isn't there any more"
                            + (dropped ? "." : ", or is set aside itself: bring that back first."))));
        }
    }

    /** Records that came while it was set aside have no value, where one was always wanted. */
    private static void missing(StoredRetirement of, long[] counts, List<Dependent> dependents) {
        boolean wanted = of.script().kept().stream().anyMatch(object -> object.kind() == Dependent.Kind.NOT_NULL);
        if (of.retired().column().isPresent() && wanted && counts[0] > counts[1]) {
            dependents.add(new Dependent(
                    Dependent.Kind.NOT_NULL,
                    of.retired().column().get(),
                    Fate.IN_THE_WAY,
                    Optional.empty(),
                    Optional.of((counts[0] - counts[1]) + " records have no value, and the column wants one. Fill "
                            + of.retired().table() + "." + of.retiree().aside() + " first.")));
        }
    }

    private void refuseChanged(Connection connection, StoredRetirement of) throws SQLException {
        if (of.textAside().isPresent()) {
            Optional<String> now = present(connection).textNow(of.retiree(), of.script());
            if (!now.equals(of.textAside())) {
                throw new InvalidRequestException(
                        FailureCode.RUN_STATE,
                        "A table was changed since " + of.retired().name() + " went, and " + dialect.name()
                                + " would make it again as it was before.",
                        "Undo that change first. It had been: " + of.textAside().get() + "; it is: " + now.orElse("")
                                + ".");
            }
        }
    }

    /** Whether it can only come back from its files; whoever drops may have died in between. */
    boolean isDropped(Connection connection, StoredRetirement of) throws SQLException {
        State state = of.retired().state();
        if (state == State.DROPPED || state == State.RETURNING) {
            return true;
        }
        return state == State.DROPPING && !present(connection).isAside(of.retiree());
    }

    private PresentState present(Connection connection) {
        return new PresentState(dialect, connection);
    }

    private static InvalidRequestException inState(Retired retired, String remedy) {
        return new InvalidRequestException(
                FailureCode.RUN_STATE, retired.name() + " is " + retired.state() + ".", remedy);
    }

    /** Plans again, under lock, what was agreed to. */
    PlannedRetirement again(Connection connection, PlannedRetirement agreed) throws SQLException {
        if (agreed.step() == RetirementStep.SET_ASIDE) {
            Retirement wish =
                    new GivenRetirement(agreed.table(), agreed.column(), agreed.along(), Retirement.DEFAULT_RETENTION);
            return setAside(connection, wish, agreed.by(), agreed.id(), agreed.madeAt(), agreed.dueAt());
        }
        StoredRetirement of = stored.get(connection, agreed.id());
        if (agreed.step() == RetirementStep.DROP) {
            if (!of.retired().isDue(clock.instant())) {
                throw inState(of.retired(), "Only what is set aside, and past its retention, can be dropped.");
            }
            return drop(connection, of, agreed.by(), agreed.madeAt(), agreed.files());
        }
        if (of.retired().state() == State.RETURNED) {
            throw inState(of.retired(), "There is nothing to bring back.");
        }
        return back(connection, of, agreed.by(), agreed.madeAt());
    }

    /** A step of what is set aside already goes by what was written down then. */
    private PlannedRetirement later(
            Connection connection,
            StoredRetirement of,
            RetirementStep step,
            By by,
            Instant at,
            List<Path> files,
            Found found) {
        Retired retired = of.retired();
        return planned(
                retired.id(),
                step,
                retired.table(),
                retired.column(),
                of.retiree(),
                Set.of(),
                by,
                at,
                retired.dueAt(),
                found,
                files,
                of.script(),
                connection);
    }

    private PlannedRetirement planned(
            UUID id,
            RetirementStep step,
            String table,
            Optional<String> column,
            Retiree retiree,
            Set<String> along,
            By by,
            Instant at,
            Instant due,
            Found found,
            List<Path> files,
            Script script,
            Connection connection) {
        Scope scope = planner.on(connection)
                .scope(RequestDigest.ofParts(
                        "retire",
                        step,
                        id,
                        retiree.schema(),
                        retiree.table(),
                        retiree.column().orElse(""),
                        along.stream().sorted().toList(),
                        due,
                        files));
        boolean sheds = step != RetirementStep.RETURN;
        Optional<Table> known = rules.catalog().tables().stream()
                .filter(each -> each.name().equals(table))
                .findFirst();
        ConsentDemands demands = new ConsentDemands(rules, rules);
        return new PlannedRetirement(
                id,
                step,
                table,
                column,
                retiree,
                along,
                by,
                at,
                due,
                found,
                files,
                script,
                fingerprint(scope, step, found, script),
                known.filter(each -> sheds).map(demands::withoutWayBack).orElse(Consent.NONE),
                known.filter(each -> sheds)
                        .map(each -> demands.colleague(Map.of(each.name(), 1L)))
                        .orElse(false),
                scope);
    }

    /**
     * What stands on it is in the script. A table that is in use goes on changing while somebody reads the plan; of what is set aside each
     * record counts. Holds and other things of ours that come meanwhile are told as what they are.
     */
    private static String fingerprint(Scope scope, RetirementStep step, Found found, Script script) {
        StringBuilder text = new StringBuilder(scope.toString()).append('\n').append(script.text());
        if (step == RetirementStep.DROP) {
            text.append('\n').append(found.records()).append(' ').append(found.filled());
        }
        return Chain.digest(text.toString());
    }
}
