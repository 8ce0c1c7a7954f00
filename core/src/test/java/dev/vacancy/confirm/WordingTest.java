package dev.vacancy.confirm;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Emptying;
import dev.vacancy.FailureCode;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.wording.Wording;
import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;
import java.util.List;
import java.util.ListResourceBundle;
import java.util.Locale;
import java.util.Properties;
import java.util.Set;
import java.util.StringJoiner;
import java.util.UUID;
import org.junit.jupiter.api.Test;

/** Questions are put in the words of a language or of the application, with its plurals and its numbers. */
class WordingTest {
    private static final By ODILE = By.user("odile");
    private static final Wording GERMAN = Wording.of(Locale.GERMANY);

    private final Database database = Engine.H2
            .database()
            .run(
                    "create table hive (hive_id integer primary key, name varchar(40))",
                    "create table inspection (inspection_id integer primary key, hive_id integer, foreign key (hive_id)"
                            + " references hive (hive_id) on delete cascade)",
                    "create table photo (photo_id integer primary key, hive_id integer, foreign key (hive_id)"
                            + " references hive (hive_id))",
                    "insert into hive values (1, 'It''s {0}'), (2, 'Larkmoor'), (3, 'Larkmoor')",
                    "insert into inspection values (1, 1)",
                    "insert into photo values (1, 1), (2, 1), (3, 2)",
                    inspections());

    private final Vacancy vacancy =
            Vacancy.over(database.source(), RuleBook.bySchema().on("photo.hive_id", Clause.detach()));

    private static String inspections() {
        StringJoiner rows = new StringJoiner(", ", "insert into inspection values ", "");
        for (int i = 2; i <= 1_235; i++) {
            rows.add("(" + i + ", 2)");
        }
        return rows.toString();
    }

    private Plan plan(Selection selection) {
        return vacancy.plan(selection, ODILE);
    }

    @Test
    void oneRecordHasTheSingularInEachLanguage() {
        Question one = Question.about(plan(Selection.of("hive").key(1)));

        assertThat(one.text())
                .isEqualTo("Delete hive 1 'It's {0}' and 1 record that depends on it? There is no way back.");
        assertThat(one.worded(GERMAN).text())
                .isEqualTo("hive 1 'It's {0}' und 1 Datensatz, der daran hängt, löschen? Es gibt kein Zurück.");
        assertThat(one.worded(GERMAN).survivors())
                .containsExactly("2 Datensätze aus photo bleiben: photo.hive_id wird null");
    }

    @Test
    void manyRecordsHaveThePluralAndTheNumbersOfTheLanguage() {
        Question two = Question.about(plan(Selection.of("hive").where(Criteria.parse("name = 'Larkmoor'"))));

        assertThat(two.text())
                .isEqualTo(
                        "Delete 2 of the 3 records of hive and 1,234 records that depend on them? There is no way back.");
        assertThat(two.worded(GERMAN).text())
                .isEqualTo("2 der 3 Datensätze aus hive und 1.234 Datensätze, die daran hängen, löschen?"
                        + " Es gibt kein Zurück.");
        assertThat(two.worded(GERMAN).survivors())
                .containsExactly("1 Datensatz aus photo bleibt: photo.hive_id wird null");
        assertThat(Question.aboutChunks(plan(Selection.of("hive").key(3)))
                        .worded(GERMAN)
                        .text())
                .isEqualTo(
                        "hive 3 'Larkmoor' löschen, in Teilen, die einzeln festgeschrieben werden? Es gibt kein Zurück.");
        assertThat(Question.about(vacancy.plan(Emptying.of("inspection"), ODILE))
                        .worded(GERMAN)
                        .text())
                .isEqualTo("Alle 1.235 Datensätze aus inspection entfernen?");
    }

    @Test
    void yesAndNumbersAreUnderstoodInTheLanguage() {
        Question yes = Question.about(plan(Selection.of("hive").key(1))).worded(GERMAN);
        Question number =
                Question.about(vacancy.plan(Emptying.of("inspection"), ODILE)).worded(GERMAN);

        assertThat(List.of(" Ja ", "j")).allMatch(answer -> yes.answer(answer).isPresent());
        assertThat(List.of("yes", "y", "nein", "", "jein"))
                .noneMatch(answer -> yes.answer(answer).isPresent());
        assertThat(List.of("1.235", "1235"))
                .allMatch(answer -> number.answer(answer).isPresent());
        assertThat(List.of("1.234", "ja", "1.2.35"))
                .noneMatch(answer -> number.answer(answer).isPresent());
    }

    @Test
    void bulkDeletionsAskForTheNumberInTheLanguageToo() {
        Vacancy strict = Vacancy.over(
                database.source(),
                RuleBook.bySchema()
                        .on("photo.hive_id", Clause.detach())
                        .consent("hive", ConsentRule.atLeast(Consent.NUMBER)));
        Question question = Question.aboutChunks(
                        strict.plan(Selection.of("hive").key(2), ODILE))
                .worded(GERMAN);

        assertThat(question.answer("ja")).isEmpty();
        assertThat(question.answer("1.235")).isPresent();
    }

    @Test
    void whatForbidsIsToldInTheLanguage() {
        Vacancy blocking =
                Vacancy.over(database.source(), RuleBook.bySchema().on("photo.hive_id", Clause.block("it was sold")));
        Plan two = blocking.plan(Selection.of("hive").key(1), ODILE);
        Plan one = blocking.plan(Selection.of("hive").key(2), ODILE);

        assertThat(Question.obstacles(two, Wording.english()))
                .containsExactly("2 records of photo forbid it by photo.hive_id: it was sold")
                .containsExactly(two.blockers().get(0).text());
        assertThat(Question.obstacles(one, Wording.english()))
                .containsExactly(one.blockers().get(0).text());
        assertThat(Question.obstacles(two, GERMAN))
                .containsExactly("2 Datensätze aus photo verbieten es durch photo.hive_id: it was sold");
        assertThat(Question.obstacles(one, GERMAN))
                .containsExactly("1 Datensatz aus photo verbietet es durch photo.hive_id: it was sold");
        assertThat(Question.obstacles(blocking.plan(Selection.of("hive").key(3), ODILE), GERMAN))
                .isEmpty();
    }

    @Test
    void restoresAreAskedAboutInTheLanguage() {
        RuleBook book = RuleBook.bySchema().on("photo.hive_id", Clause.detach()).trail(Trail.defaults());
        Ddl.of(database.source(), book).apply();
        Vacancy recording = Vacancy.over(database.source(), book);
        UUID run = recording
                .run(Approval.of(recording.plan(Selection.of("hive").key(1), ODILE)))
                .runId();
        Question question = Question.about(recording.history().planRestore(run, ODILE));

        assertThat(question.text()).isEqualTo("Bring back 2 records that odile deleted, and put back 2 links?");
        assertThat(question.worded(GERMAN).text())
                .isEqualTo("2 Datensätze zurückholen, gelöscht von odile, und 2 Verweise wiederherstellen?");
        assertThat(question.worded(GERMAN).answer("yes")).isEmpty();
        assertThat(question.worded(GERMAN).answer("ja")).isPresent();
    }

    @Test
    void anApplicationReplacesWhatItLikes() {
        Wording own = Wording.of(new ListResourceBundle() {
            @Override
            protected Object[][] getContents() {
                return new Object[][] {{"question", "Really let {0} go?"}, {"answer.yes", "let go"}};
            }
        });
        Question question = Question.about(plan(Selection.of("hive").key(3))).worded(own);

        assertThat(question.text()).isEqualTo("Really let hive 3 'Larkmoor' go? There is no way back.");
        assertThat(question.answer("yes")).isEmpty();
        assertThat(question.answer("Let go")).isPresent();
    }

    @Test
    void failuresAreToldToThoseWhoUseAProgram() {
        Wording own = Wording.of(new ListResourceBundle() {
            @Override
            protected Object[][] getContents() {
                return new Object[][] {{"failure.locked", "The bees are busy."}, {"dialog.yes", "Let go"}};
            }
        });

        assertThat(Wording.english().failure(FailureCode.LOCKED.text()))
                .isEqualTo("Somebody else is working on this. Try again later.");
        assertThat(GERMAN.failure(FailureCode.LOCKED.text()))
                .isEqualTo("Jemand anders arbeitet gerade daran. Versuchen Sie es später.");
        assertThat(GERMAN.failure(FailureCode.NO_KEY.text())).isEqualTo("So geht das nicht.");
        assertThat(own.failure(FailureCode.LOCKED.text())).isEqualTo("The bees are busy.");
        assertThat(own.failure(FailureCode.FORBIDDEN.text())).isEqualTo("You may not do that.");
        assertThat(own.all("dialog"))
                .containsEntry("yes", "Let go")
                .containsEntry("no", "Keep")
                .containsEntry("type", "Type {0} to do so");
    }

    @Test
    void thereAreWordsForFailuresThatThereAre() throws IOException {
        Set<String> besides = Set.of("other", "not-found", "deleted-already", "no-approval", "constraint", "internal");

        assertThat(words("Words.properties").stringPropertyNames())
                .filteredOn(key -> key.startsWith("failure."))
                .extracting(key -> key.substring("failure.".length()))
                .filteredOn(code -> !besides.contains(code))
                .isSubsetOf(Arrays.stream(FailureCode.values())
                        .map(FailureCode::text)
                        .toList());
    }

    @Test
    void theFirstLanguageThatIsSpokenIsTaken() {
        assertThat(Wording.firstOf(List.of(Locale.FRENCH, Locale.GERMAN, Locale.ENGLISH))
                        .locale())
                .isEqualTo(Locale.GERMAN);
        assertThat(Wording.firstOf(List.of(Locale.UK, Locale.GERMAN)).locale()).isEqualTo(Locale.UK);
        assertThat(Wording.firstOf(List.of(Locale.FRENCH)).locale()).isEqualTo(Locale.ENGLISH);
        assertThat(Wording.firstOf(List.of()).locale()).isEqualTo(Locale.ENGLISH);
    }

    /** The language of the machine is nobody's wish. */
    @Test
    void theLanguageOfTheMachineIsNotTaken() {
        Locale usual = Locale.getDefault();
        try {
            Locale.setDefault(Locale.GERMANY);
            assertThat(Wording.of(Locale.ITALIAN).text("question.no-way-back")).isEqualTo("There is no way back.");
            assertThat(Question.about(plan(Selection.of("hive").key(2))).text()).contains("1,234 records");
        } finally {
            Locale.setDefault(usual);
        }
    }

    @Test
    void everyLanguageHasAllTheWords() throws IOException {
        assertThat(words("Words_de.properties").keySet())
                .isEqualTo(words("Words.properties").keySet());
    }

    private static Properties words(String name) throws IOException {
        Properties words = new Properties();
        try (InputStream file = Wording.class.getResourceAsStream(name)) {
            words.load(file);
        }
        return words;
    }
}
