package dev.vacancy.examples.documents;

import de.bwaldvogel.mongo.MongoBackend;
import de.bwaldvogel.mongo.MongoDatabase;
import de.bwaldvogel.mongo.MongoServer;
import de.bwaldvogel.mongo.backend.CollectionOptions;
import de.bwaldvogel.mongo.backend.CursorRegistry;
import de.bwaldvogel.mongo.backend.Index;
import de.bwaldvogel.mongo.backend.QueryResult;
import de.bwaldvogel.mongo.backend.memory.MemoryBackend;
import de.bwaldvogel.mongo.backend.memory.MemoryCollection;
import de.bwaldvogel.mongo.backend.memory.MemoryDatabase;
import de.bwaldvogel.mongo.bson.Document;
import java.util.Collection;
import java.util.Optional;

/**
 * A server of documents in memory. As it comes, it looks by its index of ids only where a
 * filter asks for an id and nothing else, and reads the whole collection for any other; here it looks by it wherever a filter asks for ids, as other servers do.
 */
public final class DocumentsInMemory {
    private static final String ID = "_id";

    private DocumentsInMemory() {}

    /**
     * Makes a server that doesn't listen yet.
     *
     * @return the server, empty
     */
    public static MongoServer server() {
        return new MongoServer(new Backend());
    }

    private static final class Backend extends MemoryBackend implements MongoBackend {
        @Override
        public MemoryDatabase openOrCreateDatabase(String name) {
            return new Database(name, getCursorRegistry());
        }
    }

    private static final class Database extends MemoryDatabase {
        private final CursorRegistry cursors;

        Database(String name, CursorRegistry cursors) {
            super(name, cursors);
            this.cursors = cursors;
        }

        @Override
        protected MemoryCollection openOrCreateCollection(String name, CollectionOptions options) {
            return new Documents(this, name, options, cursors);
        }
    }

    private static final class Documents extends MemoryCollection {
        private Optional<Index<Integer>> ids = Optional.empty();

        Documents(MongoDatabase database, String name, CollectionOptions options, CursorRegistry cursors) {
            super(database, name, options, cursors);
        }

        @Override
        public void addIndex(Index<Integer> index) {
            super.addIndex(index);
            ids = ids.or(() -> Optional.of(index));
        }

        @Override
        protected QueryResult queryDocuments(
                Document query, Document order, int skipped, int most, int portion, Document fields) {
            Optional<Document> asked = askedIds(query);
            return asked.isPresent() && ids.isPresent() && ids.get().canHandle(asked.get())
                    ? matchDocuments(query, ids.get().getPositions(asked.get()), order, skipped, most, portion, fields)
                    : super.queryDocuments(query, order, skipped, most, portion, fields);
        }

        private static Optional<Document> askedIds(Document query) {
            if (query.containsKey(ID)) {
                return Optional.of(new Document(ID, query.get(ID)));
            }
            return query.get("$and") instanceof Collection<?> parts
                    ? parts.stream()
                            .filter(part -> part instanceof Document document && document.containsKey(ID))
                            .map(part -> new Document(ID, ((Document) part).get(ID)))
                            .findFirst()
                    : Optional.empty();
        }
    }
}
