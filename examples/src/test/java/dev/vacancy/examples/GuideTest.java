package dev.vacancy.examples;

import static org.assertj.core.api.Assertions.assertThat;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Active;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.CommitListener;
import dev.vacancy.Criteria;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.FailureCode;
import dev.vacancy.JsonForm;
import dev.vacancy.Outcome;
import dev.vacancy.Permissions;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.approvals.Approvals;
import dev.vacancy.approvals.Receipt;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.MaskingPlan;
import dev.vacancy.history.Mention;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.Verification;
import dev.vacancy.retirement.Retired;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.retirement.RetirementOutcome;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.Retirements;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.TraceRule;
import dev.vacancy.rule.Trail;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TraceOutcome;
import dev.vacancy.trace.TracePlan;
import dev.vacancy.wording.Wording;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Statement;
import java.time.Period;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;

/** The guide's snippets, run one after the other; the guide shows these very lines. */
class GuideTest {
    private static final Path GUIDE = Path.of("../docs/guide");
    private static final Path README = Path.of("../README.md");

    /** What is compiled and run: this test and the programs of the daily tasks. */
    private static final List<Path> SOURCES = List.of(
            Path.of("src/test/java/dev/vacancy/examples/GuideTest.java"),
            Path.of("src/test/java/dev/vacancy/examples/tasks/AskFirst.java"),
            Path.of("src/test/java/dev/vacancy/examples/tasks/SoftDeleteAndRestore.java"),
            Path.of("web/src/test/java/dev/vacancy/examples/web/tasks/OfferOverHttp.java"),
            Path.of("../spring-boot-starter/src/test/java/dev/vacancy/spring/boot/BerthRepository.java"),
            Path.of("../spring-boot-starter/src/test/java/dev/vacancy/spring/boot/MarinaApplication.java"),
            Path.of("../spring-boot-starter/src/test/java/dev/vacancy/spring/boot/Register.java"),
            Path.of("../spring-boot-starter/src/test/java/dev/vacancy/spring/boot/SliceTest.java"),
            Path.of("../databases/src/test/java/dev/vacancy/databases/EmptyDatabaseTest.java"),
            Path.of("../declared/src/test/java/dev/vacancy/declared/DeclaredOperationsTest.java"),
            Path.of("../documents/src/test/java/dev/vacancy/documents/LarkmoorDocumentsTest.java"),
            Path.of("../handlers/src/test/java/dev/vacancy/handlers/FilesBelowTest.java"),
            Path.of("../types/src/test/java/dev/vacancy/types/TableTypesTest.java"),
            Path.of("spring/src/main/java/dev/vacancy/examples/spring/CraftController.java"),
            Path.of("../test/src/test/java/dev/vacancy/test/RolledBackDeletionsCases.java"));

    @Test
    void theGuideShowsWhatIsRunHere() throws Exception {
        List<String> sources = new ArrayList<>();
        for (Path source : SOURCES) {
            sources.add(flat(Files.readAllLines(source)));
        }
        List<Path> pages;
        try (Stream<Path> files = Files.list(GUIDE)) {
            pages = Stream.concat(Stream.of(README), files.sorted()).toList();
        }

        int found = 0;
        for (Path page : pages) {
            for (String snippet : snippets(Files.readAllLines(page))) {
                assertThat(sources).as(page + ": " + snippet).anyMatch(source -> shows(source, snippet));
                found++;
            }
        }
        assertThat(found).isGreaterThan(30);
    }

    /** A snippet may begin with imports, which stand further up in the source. */
    private static boolean shows(String source, String snippet) {
        String body = snippet.replaceAll("import[\\w.]+;", "");
        return source.contains(body)
                && Pattern.compile("import[\\w.]+;")
                        .matcher(snippet)
                        .results()
                        .allMatch(line -> source.contains(line.group()));
    }

    @Test
    void allLinksOfTheDocumentsLeadSomewhere() throws Exception {
        try (Stream<Path> files = Files.walk(Path.of("../docs"))) {
            List<Path> pages = Stream.concat(
                            Stream.of(README, Path.of("../CONTRIBUTING.md"), Path.of("../SECURITY.md")),
                            files.filter(file -> file.toString().endsWith(".md")))
                    .toList();
            for (Path page : pages) {
                assertThat(Pattern.compile("]\\((?!https?:)([^)#]+)[^)]*\\)")
                                .matcher(Files.readString(page))
                                .results())
                        .as(page.toString())
                        .allSatisfy(link ->
                                assertThat(page.resolveSibling(link.group(1))).exists());
            }
        }
    }

    private static List<String> snippets(List<String> lines) {
        List<String> snippets = new ArrayList<>();
        List<String> open = null;
        for (String line : lines) {
            if (line.equals("```java")) {
                open = new ArrayList<>();
            } else if (line.equals("```") && open != null) {
                snippets.add(flat(open));
                open = null;
            } else if (open != null) {
                open.add(line);
            }
        }
        return snippets;
    }

    /** Without comments, indentation and the breaks of lines. */
    private static String flat(List<String> lines) {
        return lines.stream()
                .map(line -> line.replaceAll("\\s*// .*$", "").strip())
                .filter(line -> !line.isEmpty())
                .collect(Collectors.joining())
                .replaceAll("\\s+", "");
    }

    @Test
    void eachSnippetDoesWhatTheGuideSays() throws Exception {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:guide");
            try (Connection connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }
            Vacancy plain = byKey(database);
            unasked(plain);
            severally(plain);
            emptying(plain);
            checking(database);
            inBulk(database, plain);
            Vacancy vacancy = rules(database);
            asking(vacancy);
            askingHarder(database);
            askingInGerman(vacancy);
            following();
            permitting(vacancy);
            listening(vacancy);
            Outcome outcome = soft(vacancy);
            restoring(vacancy, outcome.runId());
            history(database, vacancy);
            Plan hive = vacancy.plan(Selection.of("hive").key(15), By.user("tam"));
            restoringMany(vacancy, vacancy.run(Approval.of(hive)).runId());
            travelling(database);
        }
    }

    private static Vacancy byKey(DataSource dataSource) {
        Vacancy vacancy = Vacancy.over(dataSource);

        Plan plan = vacancy.plan(Selection.of("hive").key(12), By.user("odile").because("colony lost"));
        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(outcome.counts()).containsEntry("hive", 1L).containsEntry("reading", 500L);
        return vacancy;
    }

    private static void unasked(Vacancy vacancy) {
        Outcome outcome = vacancy.delete(Selection.of("hive").key(11), By.program("nightly"));

        assertThat(outcome.counts()).containsEntry("hive", 1L);
    }

    private static void severally(Vacancy vacancy) {
        Criteria old = Criteria.parse("hive.name like 'Fell%' and inspected_on < today - 2 years");
        Plan plan = vacancy.plan(Selection.of("inspection").where(old).atMost(500), By.user("odile"));

        assertThat(plan.selected()).isLessThanOrEqualTo(500);
        threeOf(vacancy);
    }

    private static void threeOf(Vacancy vacancy) {
        Selection several = Selection.of("hive").keys(List.of(16, 17, 18)).expecting(3);
        Plan plan = vacancy.plan(several, By.user("odile"));

        assertThat(plan.selected()).isEqualTo(3);
    }

    private static void emptying(Vacancy vacancy) {
        EmptyingPlan plan = vacancy.plan(Emptying.of("reading"), By.user("odile"));
        Question question = Question.about(plan);
        Optional<Approval> approval = question.answer(String.valueOf(plan.total()));

        assertThat(approval).isPresent();
        assertThat(question.answer("yes")).isEmpty();
    }

    private static void checking(DataSource dataSource) {
        RuleBook rules = RuleBook.bySchema();
        List<Finding> findings = Vacancy.check(dataSource, rules);
        findings.forEach(
                finding -> System.err.println(finding.where() + ": " + finding.why() + "; " + finding.remedy()));

        assertThat(findings).isNotEmpty();
    }

    private static void inBulk(DataSource dataSource, Vacancy vacancy) {
        Criteria old = Criteria.parse("taken_at < '2026-03-10T00:00'");
        Plan plan = vacancy.plan(Selection.of("reading").where(old), By.program("clean-up"));

        Ddl.of(dataSource, Ddl.Part.BULK_RUNS).apply();
        BulkRuns runs = vacancy.bulk();
        BulkRun run = runs.start(Approval.inChunks(plan), BulkOptions.defaults().named("old readings"));
        BulkRun end = runs.work(run.runId());

        assertThat(end.done()).isEqualTo(plan.selected()).isPositive();
    }

    private static Vacancy rules(DataSource dataSource) {
        RuleBook rules = RuleBook.bySchema()
                .on(
                        "treatment.hive_id",
                        Clause.block("its withholding period runs").where("withhold_until >= today"),
                        Clause.cascade())
                .on("inspection.keeper_id", Clause.reassign())
                .on("placement.keeper_id", Clause.keep())
                .marker("keeper", Marker.timestamp("left_at"))
                .soft("keeper", SoftDelete.defaults().keptFor(Period.ofDays(15)).uniqueWhileActive("email"))
                .trail(Trail.defaults());

        Ddl.of(dataSource, rules).apply();
        Vacancy vacancy = Vacancy.over(dataSource, rules);

        assertThat(Vacancy.check(dataSource, rules)).isNotNull();
        return vacancy;
    }

    private static void listening(Vacancy vacancy) {
        Set<String> caches = new HashSet<>(Set.of("hive", "keeper"));
        Vacancy told = vacancy.withListener(new CommitListener() {
            @Override
            public void deleted(Outcome outcome) {
                caches.removeAll(outcome.counts().keySet());
            }
        });

        told.run(Approval.of(told.plan(Selection.of("hive").key(14), By.user("tam"))));

        assertThat(caches).containsExactly("keeper");
    }

    private static void asking(Vacancy vacancy) {
        Plan plan = vacancy.plan(Selection.of("hive").key(13), By.user("tam"));
        Question question = Question.about(plan);
        String text = question.text();
        Optional<Approval> approval = question.answer("no");

        assertThat(text).startsWith("Delete hive 13 ").endsWith("?");
        assertThat(approval).isEmpty();
    }

    private static void askingHarder(DataSource dataSource) {
        RuleBook rules = RuleBook.bySchema()
                .consent("reading", ConsentRule.atLeast(Consent.NONE).numberBeyond(1_000))
                .consent("hive", ConsentRule.atLeast(Consent.YES).withoutWayBack(Consent.LABEL));
        Vacancy vacancy = Vacancy.over(dataSource, rules);

        Plan plan = vacancy.plan(Selection.of("hive").key(13), By.user("tam"));
        Optional<String> typed = Question.about(plan).typed();

        assertThat(typed).hasValueSatisfying(label -> assertThat(label).isNotBlank());
        assertThat(Question.about(plan).answer("yes")).isEmpty();
    }

    private static void askingInGerman(Vacancy vacancy) {
        Plan plan = vacancy.plan(Selection.of("hive").key(13), By.user("tam"));

        Question german = Question.about(plan).worded(Wording.of(Locale.GERMANY));
        String frage = german.text();
        Optional<Approval> ja = german.answer("ja");
        String warum = Wording.of(Locale.GERMANY).failure(FailureCode.LOCKED.text());

        assertThat(frage).startsWith("hive 13 ").contains("löschen?");
        assertThat(ja).isPresent();
        assertThat(warum).startsWith("Jemand anders");
    }

    private static void travelling(DataSource dataSource) {
        byte[] secret = new byte[ApprovalKeys.LEAST_BYTES];
        byte[] formerSecret = new byte[ApprovalKeys.LEAST_BYTES];
        Vacancy vacancy = Vacancy.over(dataSource);

        ApprovalKeys keys = ApprovalKeys.signingWith("2026-11", secret).verifyingToo("2026-10", formerSecret);
        Approvals approvals = Approvals.of(vacancy, keys);
        Ddl.of(dataSource, Ddl.Part.APPROVALS).apply();

        Selection hive = Selection.of("hive").key(13);
        String token = approvals.issue(vacancy.plan(hive, By.user("tam")));

        Receipt receipt = approvals.redeem(token, hive, By.user("tam"), "yes");
        Receipt again = approvals.redeem(token, hive, By.user("tam"), "yes");

        assertThat(receipt.repeated()).isFalse();
        assertThat(again.repeated()).isTrue();
        assertThat(again.runId()).isEqualTo(receipt.runId());
        together(dataSource, keys);
    }

    private static void together(DataSource dataSource, ApprovalKeys keys) {
        RuleBook rules = RuleBook.bySchema()
                .consent("hive", ConsentRule.atLeast(Consent.YES).withColleague());
        Vacancy vacancy = Vacancy.over(dataSource, rules);

        Selection hive = Selection.of("hive").key(14);
        Approvals approvals = Approvals.of(vacancy, keys);
        String alone = approvals.issue(vacancy.plan(hive, By.user("tam")));
        String both = approvals.agree(alone, hive, By.user("odile"));

        assertThat(both).isNotEqualTo(alone);
    }

    private static void permitting(Vacancy vacancy) {
        Permissions permissions = (by, act, table) -> switch (act) {
            case PREVIEW, SEE, DELETE -> true;
            default -> by.actor().equals("odile");
        };
        Vacancy forTam = vacancy.actingFor(By.user("tam"), permissions);

        Plan plan = forTam.plan(Selection.of("hive").key(13), By.user("tam"));

        assertThat(plan.selected()).isEqualTo(1);
        assertThat(forTam.history().runs(HistoryQuery.all())).isEmpty();

        Permissions own = permissions
                .ofRecords((by, act, table, values) -> !table.equals("hive") || !"Fellside".equals(values.get("name")))
                .withholding((by, table, column) -> column.equals("phone"));

        assertThat(own.may(By.user("tam"), Permissions.Action.DELETE, "hive", Map.of("name", "Fellside")))
                .isFalse();
        assertThat(own.withholds(By.user("tam"), "keeper", "phone")).isTrue();
    }

    private static void following() {
        RuleBook rules = RuleBook.bySchema()
                .marker("stay", Marker.latestRow("from_date", "apiary_id", "keeper_id"))
                .soft("stay");

        assertThat(rules).isNotEqualTo(RuleBook.bySchema());
    }

    private static Outcome soft(Vacancy vacancy) {
        Selection leaving = Selection.of("keeper").key(3).reassigning("inspection.keeper_id", 7);
        Outcome outcome =
                vacancy.run(Approval.of(vacancy.plan(leaving, By.user("odile").because("moved away"))));

        Active active = vacancy.active("keeper");
        String sql = "select k.name from keeper k where " + active.sql("k");

        assertThat(outcome.marked()).containsExactly("keeper");
        assertThat(sql).contains("is null");
        return outcome;
    }

    private static void restoring(Vacancy vacancy, UUID run) {
        RestorePlan plan = vacancy.history().planRestore(run, By.user("una"));
        plan.conflicts().forEach(conflict -> System.err.println(conflict.reason() + " " + conflict.remedy()));
        Question question = Question.about(plan);
        RestoreOutcome outcome =
                vacancy.history().restore(question.answer("yes").orElseThrow());

        Plan undo = vacancy.plan(vacancy.history().undoing(outcome.runId()), By.user("una"));

        assertThat(outcome.counts()).containsEntry("keeper", 1L);
        assertThat(undo.counts()).containsEntry("keeper", 1L);

        Plan purge = vacancy.plan(
                vacancy.pastRetention("keeper").reassigning("inspection.keeper_id", 7), By.program("night shift"));
        vacancy.run(Approval.of(purge));

        assertThat(purge.selected()).isEqualTo(1);
    }

    private static void restoringMany(Vacancy vacancy, UUID run) {
        RestorePlan plan = vacancy.history().planRestore(run, By.user("una"));
        RestoreOutcome whole =
                vacancy.history().restore(Approval.of(plan), 50_000, portion -> System.err.println(portion.counts()));

        assertThat(whole.counts()).isEqualTo(plan.counts());
    }

    private static void masking(Vacancy vacancy) {
        Outcome outcome = vacancy.delete(
                Selection.of("hive").where(Criteria.parse("hive_id in (16, 60, 100, 150)")),
                By.user("odile").because("Hesper Vale asked for it"));
        assertThat(outcome.total()).isPositive();
        MaskingPlan masking =
                vacancy.history().planMasking("Hesper Vale", By.user("una").because("request 12"));
        List<Mention> places = masking.mentions();
        long masked =
                vacancy.history().mask(Question.about(masking).answer("yes").orElseThrow());

        assertThat(places).extracting(Mention::places).contains(List.of("reason"));
        assertThat(masked).isEqualTo(places.size());
        assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
    }

    @Test
    void whatIsKnownOfAPersonIsToldAndErased() throws Exception {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:person");
            try (Connection connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }
            RuleBook recorded = RuleBook.bySchema().trail(Trail.defaults());
            RuleBook rules = recorded.trace(
                    "keeper",
                    TraceRule.knownBy("name", "email")
                            .masking("inspection.note")
                            .on("inspection.keeper_id", Clause.detach()));
            Ddl.of(database, rules).apply();
            tracing(Vacancy.over(database, rules));
        }
    }

    private static void tracing(Vacancy vacancy) {
        List<Map<String, Object>> lines = new ArrayList<>();
        Trace trace = vacancy.trace("keeper", 3);
        String known = trace.tree();
        vacancy.export(trace, record -> lines.add(JsonForm.of(record)));
        TracePlan plan = vacancy.plan(trace, By.user("una").because("request 17"));
        TraceOutcome outcome =
                vacancy.eraseTrace(Question.about(plan).answer("yes").orElseThrow());
        Trace left = outcome.left();

        assertThat(known)
                .startsWith("keeper 3 'Hesper Quill'\n├─ the record itself")
                .contains("text in inspection.note   1  masked");
        assertThat(lines).hasSize(21);
        assertThat(outcome.masked()).isEqualTo(Map.of("inspection", 1L));
        assertThat(left.isEmpty()).isTrue();
        assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
    }

    @Test
    void aColumnRetiresAndComesBack() throws Exception {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:retired");
            try (Connection connection = database.getConnection();
                    Statement statement = connection.createStatement()) {
                Larkmoor.create(connection, 1);
                statement.execute("create view wooden_hives as select hive_id, wood from hive");
            }
            Ddl.of(database, Ddl.Part.RETIREMENTS).apply();
            retiring(Vacancy.over(database, RuleBook.bySchema()));
        }
    }

    private static void retiring(Vacancy vacancy) {
        RetirementPlan plan = vacancy.plan(
                Retirement.ofColumn("hive", "wood").along("wooden_hives").keptFor(Period.ofDays(60)),
                By.user("odile").because("the inventory has it"));
        Question question = Question.about(plan);
        RetirementOutcome outcome = vacancy.retire(question.answer("hive.wood").orElseThrow());

        Retirements retirements = vacancy.retirements();
        List<Retired> all = retirements.list();
        RetirementPlan back = retirements.planReturn(outcome.id(), By.user("odile"));
        vacancy.retire(Question.about(back).answer("yes").orElseThrow());

        assertThat(plan.filled()).isEqualTo(plan.records());
        assertThat(all).extracting(Retired::state).containsExactly(Retired.State.SET_ASIDE);
        assertThat(retirements.list()).extracting(Retired::state).containsExactly(Retired.State.RETURNED);
    }

    private static void history(DataSource dataSource, Vacancy vacancy) {
        List<TrailEntry> entries = vacancy.history().entries(HistoryQuery.all().ofRecord("keeper", "3"));

        Verification verification = vacancy.history().verify(Optional.empty());
        boolean intact = verification.isIntact();

        assertThat(entries).extracting(TrailEntry::action).containsExactly("restored", "marked");
        assertThat(intact).isTrue();

        UUID hold =
                vacancy.history().hold("hive", "wood = 'larch'", By.user("tam").because("court case 7"));
        vacancy.history().lift(hold, By.user("tam").because("settled"));
        vacancy.history().erase("keeper", "12", By.user("una").because("asked to be forgotten"));

        assertThat(vacancy.history().verify(Optional.empty()).erased())
                .as("with all that went with the keeper")
                .isEqualTo(60);

        ErasurePlan erasure =
                vacancy.history().planErasure("keeper", "12", By.user("una").because("asked to be forgotten"));
        Question question = Question.about(erasure);
        long erased = vacancy.history().erase(question.answer("yes").orElseThrow());

        assertThat(erased).isZero();
        masking(vacancy);
        travellingWhateverItIs(dataSource, vacancy);
    }

    private static void travellingWhateverItIs(DataSource dataSource, Vacancy vacancy) {
        Approvals approvals =
                Approvals.of(vacancy, ApprovalKeys.signingWith("2026-11", new byte[ApprovalKeys.LEAST_BYTES]));
        Ddl.of(dataSource, Ddl.Part.APPROVALS, Ddl.Part.BULK_RUNS).apply();

        UUID deletion = vacancy.run(
                        Approval.of(vacancy.plan(Selection.of("queen").key(17), By.user("tam"))))
                .runId();

        String alone = approvals.issue(vacancy.history().planRestore(deletion, By.user("tam")));
        String both = approvals.agree(alone, vacancy.history().planRestore(deletion, By.user("odile")));
        Receipt back = approvals.redeemRestore(both, deletion, By.user("tam"));

        Selection old = Selection.of("photo").where(Criteria.parse("photo_id < 20"));
        Question inChunks = Question.aboutChunks(vacancy.plan(old, By.user("tam")));
        Receipt begun = approvals.redeem(
                approvals.issue(inChunks), old, By.user("tam"), inChunks.typed().orElse("yes"));

        assertThat(back.counts()).containsEntry("queen", 1L);
        assertThat(vacancy.bulk().run(begun.runId()).records()).isPositive();
    }
}
