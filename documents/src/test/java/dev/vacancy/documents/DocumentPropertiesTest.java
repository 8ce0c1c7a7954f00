package dev.vacancy.documents;

import static dev.vacancy.documents.DocumentServer.dump;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import com.mongodb.client.MongoDatabase;
import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Limits;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.bson.BsonArray;
import org.bson.BsonDocument;
import org.bson.BsonInt32;
import org.bson.BsonNull;
import org.bson.BsonObjectId;
import org.bson.BsonString;
import org.bson.BsonValue;
import org.bson.types.ObjectId;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Random collections and rules: what is left is what a plain model leaves. */
class DocumentPropertiesTest {
    /** Where the documents are. */
    DocumentServer server() {
        return DocumentServer.PLAIN;
    }

    private static final By ODILE = By.user("odile");
    private static final List<String> RULES = List.of("cascade", "detach", "cascade", "element", "block", "keep");
    private static final List<String> PATHS = List.of("at", "in.at", "all", "in.all", "each.at", "in.each.at");

    /** A link of the model: from the values at a path to the ids of another collection. */
    private record Way(String child, String path, String parent, String rule) {
        String where() {
            return child + "." + path;
        }

        Clause clause() {
            return switch (rule) {
                case "cascade" -> Clause.cascade();
                case "block" -> Clause.block("it is in the way");
                case "detach" -> Clause.detach();
                case "element" -> path.contains(".") ? Clause.detach().takingElement() : Clause.detach();
                default -> Clause.keep();
            };
        }
    }

    static Stream<Long> seeds() {
        return Stream.iterate(1L, seed -> seed + 1).limit(200);
    }

    @ParameterizedTest
    @MethodSource("seeds")
    void whatIsLeftIsWhatAPlainModelLeaves(long seed) {
        Random random = new Random(seed);
        List<String> names = List.of("a", "b", "c", "d").subList(0, 2 + random.nextInt(3));
        Map<String, Map<BsonValue, BsonDocument>> model = new TreeMap<>();
        names.forEach(name -> model.put(name, ids(random)));
        List<Way> ways = ways(random, names);
        ways.forEach(way -> model.get(way.child())
                .values()
                .forEach(document -> refer(
                        random,
                        document,
                        way.path(),
                        List.copyOf(model.get(way.parent()).keySet()))));
        MongoDatabase database = server().database();
        model.forEach((name, documents) -> documents
                .values()
                .forEach(document ->
                        database.getCollection(name, BsonDocument.class).insertOne(document.clone())));
        RuleBook rules = RuleBook.bySchema();
        for (Way way : ways) {
            rules = rules.link(way.where(), way.parent()).on(way.where(), way.clause());
        }
        boolean told = random.nextBoolean();
        Vacancy vacancy = Documents.over(
                        server().client(), database.getName(), told ? rules.trail(Trail.defaults()) : rules)
                .withLimits(
                        random.nextBoolean()
                                ? Limits.defaults()
                                : Limits.defaults().keysHeld(1 + random.nextInt(3)));
        String table = names.get(random.nextInt(names.size()));
        List<BsonValue> selected = model.get(table).keySet().stream()
                .filter(id -> random.nextInt(3) == 0)
                .toList();
        if (selected.isEmpty()) {
            return;
        }
        Map<String, List<String>> before = dump(database);

        Map<String, Set<BsonValue>> going = going(model, ways, table, selected);
        boolean blocked = ways.stream().anyMatch(way -> isBlocking(way, model, going));
        Throwable failure =
                catchThrowable(() -> vacancy.delete(Selection.of(table).keys(List.<Object>copyOf(selected)), ODILE));

        if (blocked) {
            assertThat(failure).as("seed %d, %s", seed, ways).isInstanceOf(BlockedException.class);
            assertThat(dump(database)).isEqualTo(before);
        } else {
            assertThat(failure).as("seed %d, %s", seed, ways).isNull();
            Map<String, List<String>> left = left(model, ways, going);
            assertThat(dump(database)).as("seed %d, %s", seed, ways).isEqualTo(left);
            if (told) {
                backAndForth(vacancy, database, before, left, "seed %d, %s".formatted(seed, ways));
            }
        }
    }

    /** What is put back is as it was, and what is undone again is as it was then. */
    private static void backAndForth(
            Vacancy vacancy,
            MongoDatabase database,
            Map<String, List<String>> before,
            Map<String, List<String>> left,
            String seed) {
        History history = vacancy.history();
        UUID run = history.runs(HistoryQuery.all()).get(0).runId();
        RestoreOutcome restored = history.restore(Approval.of(history.planRestore(run, ODILE)));

        assertThat(inAnyOrder(dump(database))).as(seed).isEqualTo(inAnyOrder(before));
        vacancy.delete(history.undoing(restored.runId()), ODILE);
        assertThat(inAnyOrder(dump(database))).as(seed).isEqualTo(inAnyOrder(left));
        assertThat(history.verify(Optional.empty()).faults()).as(seed).isEmpty();
    }

    /** A field that was taken away and put back stands at the end of its document. */
    private static Map<String, Set<BsonDocument>> inAnyOrder(Map<String, List<String>> dump) {
        Map<String, Set<BsonDocument>> documents = new TreeMap<>();
        dump.forEach((name, texts) ->
                documents.put(name, texts.stream().map(BsonDocument::parse).collect(Collectors.toSet())));
        return documents;
    }

    private static Map<BsonValue, BsonDocument> ids(Random random) {
        Map<BsonValue, BsonDocument> documents = new LinkedHashMap<>();
        int count = 1 + random.nextInt(8);
        for (int i = 0; i < count; i++) {
            BsonValue id = switch (random.nextInt(4)) {
                case 0 -> new BsonString(String.valueOf(i));
                case 1 -> new BsonObjectId(new ObjectId(String.format("%024x", i)));
                case 2 -> new BsonDocument("row", new BsonInt32(i)).append("yard", new BsonString("heath"));
                default -> new BsonInt32(i);
            };
            documents.put(id, new BsonDocument("_id", id).append("note", new BsonInt32(random.nextInt(5))));
        }
        return documents;
    }

    private static List<Way> ways(Random random, List<String> names) {
        Map<String, Way> ways = new LinkedHashMap<>();
        int count = 1 + random.nextInt(7);
        for (int i = 0; i < count; i++) {
            Way way = new Way(
                    names.get(random.nextInt(names.size())),
                    PATHS.get(random.nextInt(PATHS.size())) + i,
                    names.get(random.nextInt(names.size())),
                    RULES.get(random.nextInt(RULES.size())));
            ways.putIfAbsent(way.where(), way);
        }
        return List.copyOf(ways.values());
    }

    /** Puts a value, several, null or nothing at a path. */
    private static void refer(Random random, BsonDocument document, String path, List<BsonValue> parents) {
        BsonDocument at = document;
        String[] names = path.split("\\.", -1);
        boolean isArray = path.contains("all");
        for (int i = 0; i < names.length - 1; i++) {
            if (names[i].equals("each")) {
                BsonArray elements = new BsonArray();
                int count = random.nextInt(3);
                for (int j = 0; j < count; j++) {
                    BsonDocument element = new BsonDocument("no", new BsonInt32(j));
                    element.append(names[i + 1], one(random, parents));
                    elements.add(element);
                }
                at.append("each", at.containsKey("each") ? at.get("each") : elements);
                return;
            }
            if (!at.containsKey(names[i])) {
                at.append(names[i], new BsonDocument());
            }
            at = at.getDocument(names[i]);
        }
        if (random.nextInt(5) == 0) {
            return;
        }
        String last = names[names.length - 1];
        if (isArray) {
            BsonArray all = new BsonArray();
            int count = random.nextInt(4);
            for (int i = 0; i < count; i++) {
                all.add(one(random, parents));
            }
            at.append(last, all);
        } else {
            at.append(last, one(random, parents));
        }
    }

    private static BsonValue one(Random random, List<BsonValue> parents) {
        return random.nextInt(6) == 0 ? BsonNull.VALUE : parents.get(random.nextInt(parents.size()));
    }

    private static Set<BsonValue> references(BsonValue at, List<String> path) {
        Set<BsonValue> found = new LinkedHashSet<>();
        if (at == null || at.isNull()) {
            return found;
        }
        if (at.isArray()) {
            at.asArray().forEach(element -> found.addAll(references(element, path)));
        } else if (path.isEmpty()) {
            found.add(at);
        } else if (at.isDocument()) {
            found.addAll(references(at.asDocument().get(path.get(0)), path.subList(1, path.size())));
        }
        return found;
    }

    private static boolean refers(Way way, BsonDocument document, Set<BsonValue> parents) {
        return references(document, List.of(way.path().split("\\.", -1))).stream()
                .anyMatch(parents::contains);
    }

    private static Map<String, Set<BsonValue>> going(
            Map<String, Map<BsonValue, BsonDocument>> model, List<Way> ways, String table, List<BsonValue> selected) {
        Map<String, Set<BsonValue>> going = new TreeMap<>();
        model.keySet().forEach(name -> going.put(name, new LinkedHashSet<>()));
        going.get(table).addAll(selected);
        boolean grown = true;
        while (grown) {
            grown = false;
            for (Way way : ways) {
                if (way.rule().equals("cascade")) {
                    for (Map.Entry<BsonValue, BsonDocument> child :
                            model.get(way.child()).entrySet()) {
                        grown |= refers(way, child.getValue(), going.get(way.parent()))
                                && going.get(way.child()).add(child.getKey());
                    }
                }
            }
        }
        return going;
    }

    private static boolean isBlocking(
            Way way, Map<String, Map<BsonValue, BsonDocument>> model, Map<String, Set<BsonValue>> going) {
        return way.rule().equals("block")
                && model.get(way.child()).entrySet().stream()
                        .anyMatch(child -> !going.get(way.child()).contains(child.getKey())
                                && refers(way, child.getValue(), going.get(way.parent())));
    }

    private static Map<String, List<String>> left(
            Map<String, Map<BsonValue, BsonDocument>> model, List<Way> ways, Map<String, Set<BsonValue>> going) {
        Map<String, List<String>> left = new TreeMap<>();
        model.forEach((name, documents) -> {
            List<String> texts = new ArrayList<>();
            documents.forEach((id, document) -> {
                if (!going.get(name).contains(id)) {
                    for (Way way : ways) {
                        boolean elements = way.rule().equals("element");
                        if (way.child().equals(name) && (elements || way.rule().equals("detach"))) {
                            detach(document, List.of(way.path().split("\\.", -1)), going.get(way.parent()), elements);
                        }
                    }
                    texts.add(document.toJson());
                }
            });
            texts.sort(null);
            if (!texts.isEmpty()) {
                left.put(name, texts);
            }
        });
        return left;
    }

    private static void detach(BsonValue at, List<String> path, Set<BsonValue> going, boolean elements) {
        if (at == null || at.isNull()) {
            return;
        }
        if (at.isArray()) {
            at.asArray()
                    .removeIf(element -> elements
                            && path.size() == 1
                            && element.isDocument()
                            && going.contains(element.asDocument().get(path.get(0))));
            at.asArray().forEach(element -> detach(element, path, going, elements));
            return;
        }
        if (!at.isDocument()) {
            return;
        }
        BsonValue next = at.asDocument().get(path.get(0));
        if (path.size() > 1) {
            detach(next, path.subList(1, path.size()), going, elements);
        } else if (next != null && next.isArray()) {
            next.asArray().removeIf(going::contains);
        } else if (next != null && going.contains(next)) {
            at.asDocument().remove(path.get(0));
        }
    }
}
