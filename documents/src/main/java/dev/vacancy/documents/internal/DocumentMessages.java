package dev.vacancy.documents.internal;

import com.mongodb.ErrorCategory;
import com.mongodb.MongoBulkWriteException;
import com.mongodb.MongoException;
import com.mongodb.MongoWriteException;
import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoCursor;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Filters;
import com.mongodb.client.model.Indexes;
import com.mongodb.client.model.InsertManyOptions;
import com.mongodb.client.model.Projections;
import com.mongodb.client.model.Sorts;
import com.mongodb.client.model.Updates;
import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.follow.MessageStore;
import dev.vacancy.internal.follow.Pending;
import dev.vacancy.internal.follow.Position;
import dev.vacancy.internal.follow.TrailMessages;
import dev.vacancy.internal.rules.FollowUpRule;
import dev.vacancy.internal.trail.TrailTables;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.locks.LockSupport;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.bson.BsonDocument;
import org.bson.BsonInt32;
import org.bson.BsonInt64;
import org.bson.BsonString;
import org.bson.conversions.Bson;

/**
 * Messages in a collection, and in another one how far the trail was read for each follow-up. Whoever reads it on has that place to himself for a while. A
 * message is known by what it is of, so that to take it down twice changes nothing; what was handled leaves its id for an hour, so that whoever comes late with it is
 * too late.
 */
final class DocumentMessages implements MessageStore {
    /** Where the messages are. */
    static final String COLLECTION = "vacancy_follow_up";

    private static final String PLACES = "vacancy_follow_up_place";
    private static final String ID = DocumentQuery.ID;
    private static final String OWNER = "owner";
    private static final String UNTIL = "until";
    private static final String TOKEN = "takenBy";
    private static final String HANDLED = "handled";
    private static final String HANDLED_AT = "handledAt";
    private static final String NEVER = "";

    /** For how long somebody has the place to himself. */
    private static final Duration LEASE = Duration.ofMinutes(1);

    private static final Duration LONGEST_WAIT = Duration.ofSeconds(10);
    private static final Duration PAUSE = Duration.ofMillis(20);
    private static final Duration KEPT = Duration.ofHours(1);
    private static final int LONGEST_FAILURE = 1_000;
    private static final Bson IN_ORDER =
            Sorts.ascending(MessageDocument.PLACE, MessageDocument.STEP, MessageDocument.ENTRY);

    private final DocumentTrail trail;
    private final List<FollowUpRule> rules;
    private final Clock clock;

    DocumentMessages(DocumentTrail trail, List<FollowUpRule> rules, Clock clock) {
        this.trail = trail;
        this.rules = rules;
        this.clock = clock;
    }

    private MongoDatabase database() {
        return trail.database();
    }

    private MongoCollection<BsonDocument> messages() {
        return database().getCollection(COLLECTION, BsonDocument.class);
    }

    private MongoCollection<BsonDocument> places() {
        return database().getCollection(PLACES, BsonDocument.class);
    }

    private TrailMessages told() {
        return new TrailMessages(rules, trail, new DocumentValues());
    }

    /** Makes the indexes, and has each follow-up begin where the trail ends. */
    void setUp() {
        if (rules.isEmpty()) {
            return;
        }
        messages()
                .createIndex(Indexes.ascending(
                        MessageDocument.FOLLOW_UP,
                        MessageDocument.STATE,
                        MessageDocument.PLACE,
                        MessageDocument.STEP,
                        MessageDocument.ENTRY));
        messages().createIndex(Indexes.ascending(MessageDocument.RECORD));
        for (FollowUpRule rule : rules) {
            if (places().find(Filters.eq(ID, rule.name())).first() == null) {
                begin(rule.name());
            }
        }
    }

    private void begin(String name) {
        try {
            places().insertOne(position(Position.behind(trail.lastPlace()))
                    .append(ID, new BsonString(name))
                    .append(UNTIL, new BsonString(NEVER)));
        } catch (MongoWriteException there) {
            if (there.getError().getCategory() != ErrorCategory.DUPLICATE_KEY) {
                throw there;
            }
        }
    }

    private static BsonDocument position(Position position) {
        return new BsonDocument(MessageDocument.PLACE, new BsonInt64(position.place()))
                .append(MessageDocument.STEP, new BsonInt32(position.step()))
                .append(MessageDocument.ENTRY, new BsonInt64(position.entry()));
    }

    private static Position position(BsonDocument place) {
        return new Position(
                place.getInt64(MessageDocument.PLACE).getValue(),
                place.getInt32(MessageDocument.STEP).getValue(),
                place.getInt64(MessageDocument.ENTRY).getValue());
    }

    @Override
    public Taken take(String name, Instant now, Instant until, int most) {
        return answered(
                "take messages",
                () -> alone(name, place -> {
                    List<FollowUpMessage> due = due(name, now, most);
                    boolean more = due.isEmpty() && readOn(name, place);
                    if (more) {
                        due = due(name, now, most);
                    }
                    return new Taken(due.isEmpty() ? due : claim(due, now, until), more);
                }));
    }

    @Override
    public boolean readOn(String name) {
        return answered("read the audit trail", () -> alone(name, place -> readOn(name, place)));
    }

    private boolean readOn(String name, BsonDocument place) {
        Position position = position(place);
        TrailMessages.Portion portion = told().next(name, position);
        insert(portion.messages());
        if (!portion.position().equals(position)) {
            places().updateOne(
                            Filters.and(Filters.eq(ID, name), Filters.eq(OWNER, place.get(OWNER))),
                            new BsonDocument("$set", position(portion.position())));
            Bson old = Filters.lt(HANDLED_AT, TrailTables.text(clock.instant().minus(KEPT)));
            messages().deleteMany(Filters.and(Filters.eq(MessageDocument.STATE, HANDLED), old));
        }
        return portion.more();
    }

    /** Takes messages down, but for those that were. */
    void insert(List<Pending> pending) {
        List<BsonDocument> documents = pending.stream().map(MessageDocument::of).toList();
        for (List<BsonDocument> some : Portions.of(documents)) {
            try {
                messages().insertMany(some, new InsertManyOptions().ordered(false));
            } catch (MongoBulkWriteException failure) {
                boolean there = failure.getWriteErrors().stream()
                        .allMatch(error -> error.getCategory() == ErrorCategory.DUPLICATE_KEY);
                if (!there || failure.getWriteErrors().isEmpty()) {
                    throw failure;
                }
            }
        }
    }

    /** Has the place of a follow-up to himself, as long as that takes no longer than a minute. */
    private <T> T alone(String name, Function<BsonDocument, T> work) {
        String owner = UUID.randomUUID().toString();
        BsonDocument place = taken(name, owner);
        try {
            return work.apply(place);
        } finally {
            places().updateOne(Filters.and(Filters.eq(ID, name), Filters.eq(OWNER, owner)), Updates.set(UNTIL, NEVER));
        }
    }

    private BsonDocument taken(String name, String owner) {
        long end = System.nanoTime() + LONGEST_WAIT.toNanos();
        while (true) {
            Instant now = clock.instant();
            Bson free = Filters.and(Filters.eq(ID, name), Filters.lt(UNTIL, TrailTables.text(now)));
            Bson mine =
                    Updates.combine(Updates.set(OWNER, owner), Updates.set(UNTIL, TrailTables.text(now.plus(LEASE))));
            boolean isMine = places().updateOne(free, mine).getMatchedCount() == 1;
            BsonDocument place = places().find(Filters.eq(ID, name)).first();
            if (place == null) {
                throw new InvalidRequestException(
                        FailureCode.NO_TRAIL,
                        "The follow-up '" + name + "' hasn't begun in this database.",
                        "Make the Vacancy anew, with rules that name it.");
            }
            if (isMine) {
                return place;
            }
            if (System.nanoTime() > end) {
                throw LockFailures.ofConflict(PLACES, null);
            }
            LockSupport.parkNanos(PAUSE.toNanos());
        }
    }

    private static Bson waiting() {
        // What a run that is under way has put here is nobody's yet.
        return Filters.and(
                Filters.in(
                        MessageDocument.STATE,
                        MessageDocument.state(FollowUpState.OPEN),
                        MessageDocument.state(FollowUpState.FAILED)),
                Filters.exists(Change.CLAIM, false));
    }

    /** The first of each record that is due. */
    private List<FollowUpMessage> due(String name, Instant now, int most) {
        List<FollowUpMessage> due = new ArrayList<>();
        Bson open = Filters.and(
                Filters.eq(MessageDocument.FOLLOW_UP, name),
                Filters.eq(MessageDocument.STATE, MessageDocument.state(FollowUpState.OPEN)),
                Filters.lte(MessageDocument.DUE, TrailTables.text(now)),
                Filters.exists(Change.CLAIM, false));
        try (MongoCursor<BsonDocument> cursor =
                messages().find(open).sort(IN_ORDER).batchSize(most).cursor()) {
            List<BsonDocument> some = new ArrayList<>();
            while (cursor.hasNext() && due.size() < most) {
                some.add(cursor.next());
                if (some.size() == most || !cursor.hasNext()) {
                    firstOfTheirRecords(some).limit(most - due.size()).forEach(due::add);
                    some.clear();
                }
            }
        }
        return due;
    }

    private Stream<FollowUpMessage> firstOfTheirRecords(List<BsonDocument> some) {
        Set<Object> records = new HashSet<>();
        some.forEach(message -> records.add(message.get(MessageDocument.RECORD)));
        Set<Object> seen = new HashSet<>();
        Set<Object> first = new HashSet<>();
        messages()
                .find(Filters.and(Filters.in(MessageDocument.RECORD, records), waiting()))
                .sort(IN_ORDER)
                .projection(Projections.include(MessageDocument.RECORD))
                .forEach(message -> {
                    if (seen.add(message.get(MessageDocument.RECORD))) {
                        first.add(message.get(ID));
                    }
                });
        return some.stream().filter(message -> first.contains(message.get(ID))).map(MessageDocument::read);
    }

    /** Takes messages until some time, but for those that somebody else has taken or given up meanwhile. */
    private List<FollowUpMessage> claim(List<FollowUpMessage> due, Instant now, Instant until) {
        String token = UUID.randomUUID().toString();
        Bson free = Filters.and(
                Filters.in(
                        ID,
                        due.stream()
                                .map(message -> MessageDocument.id(message.id()))
                                .toList()),
                Filters.eq(MessageDocument.STATE, MessageDocument.state(FollowUpState.OPEN)),
                Filters.lte(MessageDocument.DUE, TrailTables.text(now)));
        Bson mine = Updates.combine(
                Updates.set(TOKEN, token),
                Updates.set(MessageDocument.DUE, TrailTables.text(until)),
                Updates.inc(MessageDocument.ATTEMPTS, 1));
        if (messages().updateMany(free, mine).getMatchedCount() == due.size()) {
            return due;
        }
        Set<String> held = new HashSet<>();
        messages()
                .find(Filters.eq(TOKEN, token))
                .projection(Projections.include(ID))
                .forEach(message -> held.add(message.getString(ID).getValue()));
        return due.stream()
                .filter(message -> held.contains(message.id().toString()))
                .toList();
    }

    @Override
    public int remove(List<UUID> ids) {
        Bson these =
                Filters.and(Filters.in(ID, ids.stream().map(MessageDocument::id).toList()), waiting());
        Bson handled = Updates.combine(
                Updates.set(MessageDocument.STATE, HANDLED),
                Updates.set(HANDLED_AT, TrailTables.text(clock.instant())),
                Updates.unset(MessageDocument.BEFORE),
                Updates.unset(MessageDocument.AFTER),
                Updates.unset(MessageDocument.KEY),
                Updates.unset(MessageDocument.RECORD),
                Updates.unset(MessageDocument.FAILURE));
        return answered("note that messages were handled, or given up", () ->
                (int) messages().updateMany(these, handled).getMatchedCount());
    }

    @Override
    public void fail(UUID id, FollowUpState state, Instant due, String failure) {
        String cut = failure.length() <= LONGEST_FAILURE ? failure : failure.substring(0, LONGEST_FAILURE - 1) + "…";
        Bson failed = Updates.combine(
                Updates.set(MessageDocument.STATE, MessageDocument.state(state)),
                Updates.set(MessageDocument.DUE, TrailTables.text(due)),
                Updates.set(MessageDocument.FAILURE, cut));
        update("note that a message wasn't handled", id, failed);
    }

    @Override
    public void release(UUID id, Instant due) {
        Bson released = Updates.combine(
                Updates.set(MessageDocument.DUE, TrailTables.text(due)), Updates.inc(MessageDocument.ATTEMPTS, -1));
        update("give a message back", id, released);
    }

    @Override
    public boolean again(UUID id, Instant now) {
        Bson anew = Updates.combine(
                Updates.set(MessageDocument.STATE, MessageDocument.state(FollowUpState.OPEN)),
                Updates.set(MessageDocument.ATTEMPTS, 0),
                Updates.set(MessageDocument.DUE, TrailTables.text(now)));
        return update("send a message again", id, anew);
    }

    private boolean update(String what, UUID id, Bson change) {
        Bson one = Filters.and(Filters.eq(ID, MessageDocument.id(id)), waiting());
        return answered(what, () -> messages().updateOne(one, change).getMatchedCount() == 1);
    }

    @Override
    public List<FollowUpMessage> list(int most) {
        Bson order = Sorts.orderBy(
                Sorts.ascending(MessageDocument.STATE), IN_ORDER, Sorts.ascending(MessageDocument.FOLLOW_UP));
        return answered("list messages", () -> {
            List<FollowUpMessage> list = new ArrayList<>();
            messages()
                    .find(waiting())
                    .sort(order)
                    .limit(most)
                    .forEach(message -> list.add(MessageDocument.read(message)));
            return list;
        });
    }

    @Override
    public long count(FollowUpState state) {
        return answered(
                "count messages",
                () -> messages()
                        .countDocuments(Filters.and(
                                Filters.eq(MessageDocument.STATE, MessageDocument.state(state)), waiting())));
    }

    @Override
    public Optional<FollowUpMessage> find(UUID id) {
        return answered(
                "look a message up",
                () -> Optional.ofNullable(messages()
                                .find(Filters.and(Filters.eq(ID, MessageDocument.id(id)), waiting()))
                                .first())
                        .map(MessageDocument::read));
    }

    private static <T> T answered(String what, Supplier<T> work) {
        try {
            return work.get();
        } catch (MongoException failure) {
            throw new DatabaseException(what, "It is tried again by whoever works next.", failure);
        }
    }
}
