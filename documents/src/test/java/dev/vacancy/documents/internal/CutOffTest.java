package dev.vacancy.documents.internal;

import static dev.vacancy.documents.DocumentServer.dump;
import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.MongoWriteException;
import com.mongodb.ServerAddress;
import com.mongodb.WriteError;
import com.mongodb.client.MongoClient;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.documents.DocumentServer;
import dev.vacancy.documents.Documents;
import dev.vacancy.rule.Finding;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import org.bson.BsonDocument;
import org.junit.jupiter.api.Test;

/** Runs that end in the middle on a server without transactions. */
class CutOffTest extends CutOffRuns {
    @Override
    DocumentServer server() {
        return DocumentServer.PLAIN;
    }

    /** What is planned once more, when all is marked, may not be planned at all any more. */
    @Test
    void nothingIsLeftOfARunThatFindsMoreThanItMayAtTheLastMoment() {
        AtomicInteger marks = new AtomicInteger();
        Vacancy vacancy = over(
                around(MongoClient.class, server().client(), Set.of("updateMany"), write -> {
                    if (marks.incrementAndGet() == 1) {
                        put(larkmoor, "hive", "{_id: 7, label: 'Alder'}");
                    }
                }),
                THEN);
        Selection alder = Selection.of("hive")
                .where(Criteria.column("label").equalTo("Alder"))
                .expecting(1);

        assertThatThrownBy(() -> vacancy.delete(alder, ODILE)).isInstanceOf(VacancyException.class);

        assertThat(dump(larkmoor)).containsOnlyKeys("hive", "photo", "reading");
        assertThat(dump(larkmoor).get("hive")).hasSize(3).noneMatch(hive -> hive.contains("vacancy_run"));
    }

    @Test
    void aMarkThatTheServerRefusesIsTold() {
        AtomicInteger marks = new AtomicInteger();
        Vacancy vacancy = told(
                around(MongoClient.class, server().client(), Set.of("updateMany"), write -> {
                    if (marks.incrementAndGet() == 1) {
                        throw new MongoWriteException(
                                new WriteError(121, "Document failed validation", new BsonDocument()),
                                new ServerAddress(),
                                Set.of());
                    }
                }),
                THEN);

        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), ODILE))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("Document failed validation");
        assertThat(dump(larkmoor)).isEqualTo(before);
    }

    @Test
    void whatCantBeTakenBackStaysWrittenDownAndIsTold() {
        Vacancy cut = over(interrupted(deadAfter(12)), THEN);
        assertThatThrownBy(() -> cut.delete(Selection.of("hive").key(1), ODILE)).isInstanceOf(VacancyException.class);
        Map<String, List<String>> half = dump(larkmoor);

        over(interrupted(deadAfter(3)), LATER);

        assertThat(dump(larkmoor)).containsKeys("vacancy_intention", "vacancy_intended_change");
        assertThat(half).containsKey("vacancy_intention");
        assertThat(Documents.check(server().client(), larkmoor.getName(), RULES))
                .extracting(Finding::kind)
                .contains(Finding.Kind.CUT_OFF);
        over(server().client(), Clock.offset(LATER, Intention.GIVEN_UP.plusSeconds(1)));
        assertThat(dump(larkmoor)).isIn(before, after);
    }
}
