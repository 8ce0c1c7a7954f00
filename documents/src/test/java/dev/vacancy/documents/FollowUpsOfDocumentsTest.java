package dev.vacancy.documents;

import static dev.vacancy.documents.DocumentServer.dump;
import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.client.MongoDatabase;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.followup.FollowUps;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.Period;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.bson.Document;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What follows a run outside of the database, where documents went. */
class FollowUpsOfDocumentsTest {
    private static final By ODILE = By.user("odile").because("colony lost");
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("photo.hives", "hive")
            .on("photo.hives", Clause.detach())
            .link("reading.hive", "hive")
            .on("reading.hive", Clause.cascade())
            .marker("keeper", Marker.timestamp("left"))
            .soft("keeper", SoftDelete.defaults().keptFor(Period.ofDays(1)))
            .trail(Trail.defaults())
            .followUp("hive", FollowUp.named("files").columns("map.path"))
            .followUp("reading", FollowUp.named("files"))
            .followUp("keeper", FollowUp.named("files").columns("name"))
            .followUp("photo", FollowUp.named("search").columns("hives"));

    private final List<FollowUpMessage> told = Collections.synchronizedList(new ArrayList<>());
    private MongoDatabase larkmoor;

    /** Where the documents are. */
    DocumentServer server() {
        return DocumentServer.PLAIN;
    }

    @BeforeEach
    void fill() {
        larkmoor = server().database();
        put(
                larkmoor,
                "hive",
                "{_id: 1, label: 'Alder', map: {path: 'maps/1.svg'}}",
                "{_id: 2, label: 'Birch', map: {path: 'maps/2.svg'}}");
        put(larkmoor, "reading", "{_id: 11, hive: 1}", "{_id: 12, hive: 1}", "{_id: 13, hive: 2}");
        put(larkmoor, "photo", "{_id: 'p1', hives: [1, 2]}");
        put(larkmoor, "keeper", "{_id: 'k1', name: 'Ansel'}");
    }

    private Vacancy over(Clock clock) {
        return Documents.over(server().client(), larkmoor.getName(), RULES, clock);
    }

    private Vacancy vacancy() {
        return over(Clock.systemUTC()).withFollowUp("files", told::add).withFollowUp("search", told::add);
    }

    private static String line(FollowUpMessage message) {
        return message.followUp() + " " + message.action() + " " + message.table() + " "
                + message.key().orElse("-") + " " + message.before().orElse(null) + " "
                + message.after().orElse(null);
    }

    private List<String> worked(Vacancy vacancy) {
        told.clear();
        vacancy.followUps().work();
        return told.stream().map(FollowUpsOfDocumentsTest::line).toList();
    }

    private static String hives(Integer... ids) {
        return Stream.of(ids)
                .map(id -> "{\"$numberInt\": \"" + id + "\"}")
                .collect(Collectors.joining(", ", "{hives=[", "]}"));
    }

    private static void restore(Vacancy vacancy, UUID run) {
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));
    }

    @Test
    void aPlanSaysWhatWillFollow() {
        assertThat(vacancy().plan(Selection.of("hive").key(1), ODILE).warnings())
                .contains(
                        "The follow-up 'files' is told of 1 record of hive.",
                        "The follow-up 'files' is told of 2 records of reading.",
                        "The follow-up 'search' is told of 1 record of photo.");
    }

    @Test
    void whatWentCameBackAndWasChangedIsTold() {
        Vacancy vacancy = vacancy();
        UUID run = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();

        assertThat(worked(vacancy))
                .containsExactlyInAnyOrder(
                        "files deleted reading 11 {} null",
                        "files deleted reading 12 {} null",
                        "files deleted hive 1 {map.path=maps/1.svg} null",
                        "search changed photo p1 " + hives(1, 2) + " " + hives(2));
        assertThat(told.get(0).by()).isEqualTo(ODILE);
        assertThat(told.get(0).run()).isEqualTo(run);
        restore(vacancy, run);
        assertThat(worked(vacancy))
                .containsExactlyInAnyOrder(
                        "files restored reading 11 null {}",
                        "files restored reading 12 null {}",
                        "files restored hive 1 null {map.path=maps/1.svg}",
                        "search changed photo p1 " + hives(2) + " " + hives(1, 2));
        assertThat(worked(vacancy)).isEmpty();
    }

    @Test
    void whatIsMarkedAndPurgedIsTold() {
        Vacancy vacancy = vacancy();
        vacancy.delete(Selection.of("keeper").key("k1"), ODILE);
        assertThat(worked(vacancy)).containsExactly("files marked keeper k1 {name=Ansel} null");

        Vacancy later =
                over(Clock.offset(Clock.systemUTC(), Duration.ofDays(2))).withFollowUp("files", told::add);
        later.delete(later.pastRetention("keeper"), ODILE);

        assertThat(worked(later)).containsExactly("files purged keeper k1 {name=Ansel} null");
    }

    @Test
    void whatHappenedBeforeIsNotTold() {
        Documents.over(
                        server().client(),
                        larkmoor.getName(),
                        RuleBook.bySchema()
                                .link("reading.hive", "hive")
                                .on("reading.hive", Clause.cascade())
                                .trail(Trail.defaults()))
                .delete(Selection.of("hive").key(2), ODILE);
        Vacancy vacancy = vacancy();
        vacancy.delete(Selection.of("reading").key(11), ODILE);

        assertThat(worked(vacancy)).containsExactly("files deleted reading 11 {} null");
    }

    @Test
    void whatFailsIsTriedAgainAndLaterOnesOfTheSameRecordWait() {
        FollowUpHandler failing = message -> {
            throw new IllegalStateException("the disk is full");
        };
        Vacancy vacancy = over(Clock.systemUTC()).withFollowUp("files", failing);
        UUID run = vacancy.delete(Selection.of("reading").key(11), ODILE).runId();
        restore(vacancy, run);

        assertThat(vacancy.followUps().work()).isZero();

        FollowUps followUps = vacancy.followUps();
        assertThat(followUps.count(FollowUpState.OPEN)).isEqualTo(2);
        FollowUpMessage first = followUps.list(10).get(0);
        assertThat(first.failure()).contains("the disk is full");
        assertThat(first.attempts()).isEqualTo(1);
        assertThat(followUps.list(10).get(1).attempts()).isZero();
        assertThat(worked(vacancy())).isEmpty();
        followUps.again(first.id());
        assertThat(worked(vacancy()))
                .containsExactly("files deleted reading 11 {} null", "files restored reading 11 null {}");
    }

    @Test
    void aMessageCanBeGivenUp() {
        Vacancy vacancy = vacancy();
        vacancy.delete(Selection.of("reading").key(11), ODILE);
        UUID id = vacancy.followUps().list(10).get(0).id();

        vacancy.followUps().giveUp(id);

        assertThat(worked(vacancy)).isEmpty();
        assertThatThrownBy(() -> vacancy.followUps().find(id)).isInstanceOf(InvalidRequestException.class);
        assertThatThrownBy(() -> vacancy.followUps().giveUp(id)).isInstanceOf(InvalidRequestException.class);
    }

    @Test
    void whoeverCantBringItsPartBackStandsInTheWayOfARestore() {
        FollowUpHandler lost = new FollowUpHandler() {
            @Override
            public void handle(FollowUpMessage message) {
                told.add(message);
            }

            @Override
            public Optional<String> hinders(String table, Optional<String> key, Map<String, Object> values) {
                return Optional.of(values.get("map.path") + " is gone").filter(reason -> table.equals("hive"));
            }
        };
        Vacancy vacancy = over(Clock.systemUTC()).withFollowUp("files", lost);
        UUID run = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();

        RestorePlan plan = vacancy.history().planRestore(run, ODILE);

        assertThat(plan.conflicts()).extracting(Conflict::reason).containsExactly("maps/1.svg is gone");
    }

    @Test
    void whoIsErasedIsToldForGood() {
        Vacancy vacancy = vacancy();
        vacancy.delete(Selection.of("hive").key(1), ODILE);

        vacancy.history().erase("hive", "1", ODILE);

        assertThat(worked(vacancy))
                .containsSubsequence(
                        "files deleted hive 1 {map.path=maps/1.svg} null",
                        "files purged hive 1 {map.path=maps/1.svg} null");
        assertThat(dump(larkmoor).get("vacancy_follow_up")).noneMatch(message -> message.contains("maps/1.svg"));
        assertThat(dump(larkmoor).get("vacancy_follow_up")).noneMatch(message -> message.contains("vacancy_run"));
    }

    @Test
    void whatIsPrunedIsToldForGoodUnlessItCameBack() {
        Vacancy vacancy = vacancy();
        vacancy.delete(Selection.of("reading").key(13), ODILE);
        UUID run = vacancy.delete(Selection.of("reading").key(11), ODILE).runId();
        restore(vacancy, run);
        worked(vacancy);

        vacancy.history().prune(Instant.now().plus(Duration.ofHours(1)), ODILE);

        assertThat(worked(vacancy)).containsExactly("files purged reading 13 {} null");
    }

    @Test
    void eachMessageIsHandledOnceByManyAtWork() throws Exception {
        larkmoor.getCollection("reading")
                .insertMany(IntStream.range(100, 500)
                        .mapToObj(id -> new Document("_id", id).append("hive", 1))
                        .toList());
        vacancy().delete(Selection.of("hive").key(1), ODILE);
        Set<String> keys = ConcurrentHashMap.newKeySet();
        List<String> twice = Collections.synchronizedList(new ArrayList<>());
        FollowUpHandler once = message -> {
            if (!keys.add(message.table() + " " + message.key().orElseThrow() + " " + message.action())) {
                twice.add(line(message));
            }
        };
        ExecutorService several = Executors.newFixedThreadPool(4);
        try {
            List<Future<Long>> handled = new ArrayList<>();
            for (int number = 0; number < 4; number++) {
                handled.add(several.submit(() -> over(Clock.systemUTC())
                        .withFollowUp("files", once)
                        .followUps()
                        .work()));
            }
            long all = 0;
            for (Future<Long> one : handled) {
                all += one.get();
            }
            assertThat(all).isEqualTo(403);
        } finally {
            several.shutdown();
        }
        assertThat(twice).isEmpty();
        assertThat(keys).hasSize(403);
        assertThat(vacancy().followUps().count(FollowUpState.OPEN)).isEqualTo(1);
    }

    /** Whoever reads the trail and ends has the place of a follow-up for a minute, and what he has taken down is taken down once. */
    @Test
    void aWorkerThatEndsInTheMiddleIsFollowedByAnother() {
        vacancy().delete(Selection.of("hive").key(1), ODILE);
        larkmoor.getCollection("vacancy_follow_up_place")
                .updateOne(
                        new Document("_id", "files"),
                        new Document(
                                "$set",
                                new Document("owner", "gone")
                                        .append(
                                                "until",
                                                Instant.now()
                                                                .plusSeconds(2)
                                                                .toString()
                                                                .substring(0, 19) + ".000000Z")));

        assertThat(worked(vacancy())).hasSize(4);
    }

    @Test
    void withoutAFollowUpThereIsNothingToWorkAt() {
        Vacancy without = Documents.over(
                server().client(), larkmoor.getName(), RuleBook.bySchema().trail(Trail.defaults()));

        assertThatThrownBy(without::followUps)
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("name no follow-up");
    }
}
