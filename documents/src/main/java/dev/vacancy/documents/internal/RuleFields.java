package dev.vacancy.documents.internal;

import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.rule.SoftDelete;
import java.util.List;
import java.util.Optional;
import org.bson.BsonType;

/**
 * The fields that rules name. A document without a field is no exception, and at first no document may have the one that marks what is deleted.
 *
 * @param rules what the application says
 */
record RuleFields(WrittenRules rules) {
    /** Takes a field. */
    @FunctionalInterface
    interface Taker {
        void take(String collection, String path, BsonType type);
    }

    void each(Taker taker) {
        rules.markers().forEach(marker -> mark(marker.table(), RowMarker.of(marker.marker()), taker));
        rules.softTables().forEach(table -> stamps(table.table(), table.soft(), taker));
        rules.modified().forEach(columns -> {
            expect(columns.table(), columns.by(), BsonType.STRING, taker);
            expect(columns.table(), columns.at(), BsonType.DATE_TIME, taker);
        });
        rules.versions().forEach(version -> expect(version.place(), BsonType.INT64, taker));
        rules.links().forEach(link -> expect(link.foreignKey(), BsonType.NULL, taker));
        rules.followUps()
                .forEach(rule -> rule.followUp()
                        .columnNames()
                        .forEach(path -> expect(rule.table(), Optional.of(path), BsonType.NULL, taker)));
        rules.ignoredChanges().forEach(place -> expect(place.place(), BsonType.NULL, taker));
    }

    private static void mark(String table, RowMarker marker, Taker taker) {
        if (marker instanceof RowMarker.Flag flag) {
            expect(table, Optional.of(flag.column()), Values.bson(flag.active()).getBsonType(), taker);
        } else if (!(marker instanceof LatestRow)) {
            expect(table, Optional.of(marker.column()), BsonType.DATE_TIME, taker);
        }
    }

    private static void stamps(String table, SoftDelete soft, Taker taker) {
        expect(table, soft.timeColumn(), BsonType.DATE_TIME, taker);
        expect(table, soft.actorColumn(), BsonType.STRING, taker);
        expect(table, soft.reasonColumn(), BsonType.STRING, taker);
        soft.unique().stream()
                .flatMap(List::stream)
                .forEach(path -> expect(table, Optional.of(path), BsonType.NULL, taker));
    }

    private static void expect(String table, Optional<String> path, BsonType type, Taker taker) {
        path.ifPresent(known -> taker.take(table, known, type));
    }

    /** The collection is what stands before a point; where that is in its name too, the longer ones are tried as well. */
    private static void expect(String place, BsonType type, Taker taker) {
        for (int end = place.indexOf('.'); end > 0; end = place.indexOf('.', end + 1)) {
            taker.take(place.substring(0, end), place.substring(end + 1), type);
        }
    }
}
