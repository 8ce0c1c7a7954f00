package dev.vacancy.documents;

import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.client.MongoDatabase;
import de.bwaldvogel.mongo.backend.memory.MemoryBackend;
import de.bwaldvogel.mongo.bson.Document;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import io.netty.channel.Channel;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What a collection says of its documents by itself. */
class ValidatorsTest {
    private static final By ODILE = By.user("odile");

    /** Lists validators, and a view; whatever is written fits. */
    private static final class Validating extends MemoryBackend {
        private final Map<String, String> options = new TreeMap<>();

        @Override
        @SuppressWarnings("unchecked")
        public Document handleCommand(Channel channel, String database, String command, Document query) {
            Document answer = super.handleCommand(channel, database, command, query);
            if (command.equalsIgnoreCase("listCollections")) {
                List<Document> listed = (List<Document>) ((Document) answer.get("cursor")).get("firstBatch");
                for (Document one : listed) {
                    String given = options.get((String) one.get("name"));
                    if ("view".equals(given)) {
                        one.put("type", "view");
                    } else if (given != null) {
                        one.put("options", of(org.bson.Document.parse(given)));
                    }
                }
            }
            return answer;
        }

        private static Object of(Object value) {
            if (value instanceof Map<?, ?> map) {
                Document document = new Document();
                map.forEach((name, each) -> document.put((String) name, of(each)));
                return document;
            }
            return value instanceof List<?> list
                    ? list.stream().map(Validating::of).toList()
                    : value;
        }
    }

    private static final Validating BACKEND = new Validating();
    private static final DocumentServer SERVER = DocumentServer.of(BACKEND);

    private MongoDatabase larkmoor;

    @BeforeEach
    void fill() {
        larkmoor = SERVER.database();
        BACKEND.options.clear();
        larkmoor.createCollection("hive");
        put(larkmoor, "reading", "{_id: 11, hive: 1, kilos: 31.5}");
    }

    private Vacancy vacancy() {
        return Documents.over(SERVER.client(), larkmoor.getName(), RuleBook.bySchema());
    }

    private List<Finding> check(RuleBook rules) {
        return Documents.check(SERVER.client(), larkmoor.getName(), rules);
    }

    private static String type(Table table, String column) {
        return table.column(column).typeName();
    }

    @Test
    void fieldsOfAnEmptyCollectionAreThoseOfItsValidator() {
        BACKEND.options.put(
                "hive",
                "{validator: {$jsonSchema: {bsonType: 'object', properties: {_id: {bsonType: 'objectId'},"
                        + " built: {bsonType: ['date', 'null']}, frames: {type: 'number'}, place: {bsonType: 'object',"
                        + " properties: {yard: {bsonType: 'string'}}}, keepers: {bsonType: 'array', items: {bsonType: 'int'}}}}}}");
        Vacancy vacancy = vacancy();
        Table hive = vacancy.catalog().table("hive");

        assertThat(hive.columns())
                .extracting(Column::name)
                .containsExactly("_id", "built", "frames", "place", "keepers", "place.yard");
        assertThat(type(hive, "built")).contains("date");
        assertThat(type(hive, "place.yard")).contains("string");
        assertThat(type(hive, "keepers")).contains("array of int");
        Selection wrong = Selection.of("hive").where(Criteria.column("built").equalTo("yesterday"));
        assertThatThrownBy(() -> vacancy.plan(wrong, ODILE))
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        failure -> assertThat(failure.code()).isEqualTo(FailureCode.VALUE_TYPE));
        assertThat(vacancy.delete(Selection.of("hive").where(Criteria.parse("built < now")), ODILE)
                        .total())
                .isZero();
    }

    @Test
    void whatWasSeenIsWhatHolds() {
        BACKEND.options.put(
                "reading",
                "{validator: {$jsonSchema: {properties: {kilos: {bsonType: 'string'}}}}, validationAction: 'warn'}");

        assertThat(type(vacancy().catalog().table("reading"), "kilos"))
                .contains("double")
                .doesNotContain("string");
    }

    @Test
    void aValidatorThatAllowsNoMarkIsTold() {
        String closed =
                "{validator: {$jsonSchema: {additionalProperties: false, properties: {_id: {}, hive: {}, kilos: {}%s}}}%s}";
        RuleBook rules = RuleBook.bySchema().link("reading.hive", "hive").on("reading.hive", Clause.cascade());
        BACKEND.options.put("reading", String.format(closed, "", ""));
        assertThat(check(rules))
                .filteredOn(finding -> finding.kind() == Finding.Kind.VALIDATOR)
                .singleElement()
                .satisfies(finding -> assertThat(finding.where()).isEqualTo("reading"));

        BACKEND.options.put("reading", String.format(closed, ", vacancy_run: {}", ""));
        assertThat(check(rules)).extracting(Finding::kind).doesNotContain(Finding.Kind.VALIDATOR);
        BACKEND.options.put("reading", String.format(closed, "", ", validationAction: 'warn'"));
        assertThat(check(rules)).extracting(Finding::kind).doesNotContain(Finding.Kind.VALIDATOR);
    }

    @Test
    void aViewIsNoCollection() {
        larkmoor.createCollection("heavy");
        BACKEND.options.put("heavy", "view");

        assertThat(vacancy().catalog().tables()).extracting(Table::name).containsExactly("hive", "reading");
    }
}
