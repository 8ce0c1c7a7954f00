package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.ConditionVisitor;
import dev.vacancy.internal.request.Comparison;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.bson.BsonArray;
import org.bson.BsonDocument;
import org.bson.BsonNull;
import org.bson.BsonString;
import org.bson.BsonValue;

/**
 * Renders conditions as filters that a server applies by itself. Values stand behind operators of ours only, so none of them is ever taken for
 * an operator. A condition that asks about other documents gives none.
 */
final class Filters implements ConditionVisitor<Optional<BsonDocument>> {
    static final BsonDocument ALL = new BsonDocument();
    private static final int ASCII = 128;
    private static final Filters VISITOR = new Filters();

    private Filters() {}

    /** The filter; empty if the condition asks about other documents. */
    static Optional<BsonDocument> of(Condition condition) {
        return condition.accept(VISITOR);
    }

    /** Picks the documents that have one of several values at a path. */
    static BsonDocument in(String path, List<BsonValue> values) {
        List<BsonValue> plain =
                values.stream().filter(value -> !value.isRegularExpression()).toList();
        BsonDocument among = at(path, "$in", new BsonArray(plain));
        if (plain.size() == values.size()) {
            return among;
        }
        // In a list, an expression is one that others are held against, and not a value.
        BsonArray alternatives = new BsonArray(List.of(among));
        values.stream()
                .filter(BsonValue::isRegularExpression)
                .forEach(value -> alternatives.add(at(path, "$eq", value)));
        return new BsonDocument("$or", alternatives);
    }

    /** Picks the documents that meet all filters. */
    static BsonDocument all(List<BsonDocument> filters) {
        List<BsonDocument> narrowing =
                filters.stream().filter(filter -> !filter.isEmpty()).toList();
        return switch (narrowing.size()) {
            case 0 -> ALL;
            case 1 -> narrowing.get(0);
            default -> new BsonDocument("$and", new BsonArray(narrowing));
        };
    }

    private static BsonDocument none() {
        return in("_id", List.of());
    }

    private static BsonDocument at(String path, String operator, BsonValue value) {
        return new BsonDocument(path, new BsonDocument(operator, value));
    }

    private static BsonDocument at(Column column, String operator, BsonValue value) {
        return at(column.storedName(), operator, value);
    }

    /** A value, or each element of one that is several. */
    static Stream<BsonValue> each(Object value) {
        BsonValue bson = Values.bson(value);
        return bson.isArray() ? bson.asArray().stream() : Stream.of(bson);
    }

    @Override
    public Optional<BsonDocument> visit(Condition.Among condition) {
        return Optional.of(
                rows(condition.columns().stream().map(Column::storedName).toList(), condition.keys()));
    }

    private static BsonDocument rows(List<String> paths, List<List<Object>> rows) {
        if (paths.size() == 1) {
            return in(
                    paths.get(0),
                    rows.stream().map(row -> Values.bson(row.get(0))).toList());
        }
        BsonArray alternatives = new BsonArray();
        for (List<Object> row : rows) {
            BsonDocument all = new BsonDocument();
            for (int i = 0; i < paths.size(); i++) {
                all.append(paths.get(i), new BsonDocument("$eq", Values.bson(row.get(i))));
            }
            alternatives.add(all);
        }
        return alternatives.isEmpty() ? none() : new BsonDocument("$or", alternatives);
    }

    @Override
    public Optional<BsonDocument> visit(Condition.Pictured condition) {
        return Optional.of(
                rows(condition.columns().stream().map(Column::storedName).toList(), condition.images()));
    }

    @Override
    public Optional<BsonDocument> visit(Condition.Referring condition) {
        List<Column> columns = condition.link().childColumns();
        return Optional.of(
                columns.size() == 1
                        ? in(
                                columns.get(0).storedName(),
                                condition.references().stream()
                                        .flatMap(reference -> each(reference.get(0)))
                                        .toList())
                        : rows(columns.stream().map(Column::storedName).toList(), condition.references()));
    }

    @Override
    public Optional<BsonDocument> visit(Condition.Compares condition) {
        BsonValue value = Values.bson(condition.value());
        Column column = condition.column();
        if (condition.comparison() == Comparison.NOT_EQUAL) {
            return Optional.of(all(List.of(at(column, "$ne", value), at(column, "$ne", BsonNull.VALUE))));
        }
        return Optional.of(at(column, operator(condition.comparison()), value));
    }

    private static String operator(Comparison comparison) {
        return switch (comparison) {
            case EQUAL -> "$eq";
            case NOT_EQUAL -> "$ne";
            case LESS -> "$lt";
            case AT_MOST -> "$lte";
            case GREATER -> "$gt";
            case AT_LEAST -> "$gte";
        };
    }

    @Override
    public Optional<BsonDocument> visit(Condition.Means condition) {
        return Optional.of(at(condition.column(), "$eq", Values.bson(condition.value())));
    }

    @Override
    public Optional<BsonDocument> visit(Condition.OneOf condition) {
        return Optional.of(in(
                condition.column().storedName(),
                condition.values().stream().map(Values::bson).toList()));
    }

    @Override
    public Optional<BsonDocument> visit(Condition.Like condition) {
        StringBuilder pattern = new StringBuilder("^");
        condition.pattern().codePoints().forEach(point -> {
            if (point == '%') {
                pattern.append(".*");
            } else if (point == '_') {
                pattern.append('.');
            } else if (point < ASCII && !Character.isLetterOrDigit(point)) {
                pattern.append('\\').appendCodePoint(point);
            } else {
                pattern.appendCodePoint(point);
            }
        });
        // Not by a dollar sign, which a line end may follow.
        String whole = pattern.append("\\z").toString();
        return Optional.of(new BsonDocument(
                condition.column().storedName(),
                new BsonDocument("$regex", new BsonString(whole)).append("$options", new BsonString("s"))));
    }

    @Override
    public Optional<BsonDocument> visit(Condition.IsNull condition) {
        return Optional.of(at(condition.column(), "$eq", BsonNull.VALUE));
    }

    @Override
    public Optional<BsonDocument> visit(Condition.Sibling condition) {
        return Optional.empty();
    }

    @Override
    public Optional<BsonDocument> visit(Condition.Any condition) {
        return Optional.of(ALL);
    }

    @Override
    public Optional<BsonDocument> visit(Condition.OfParent condition) {
        return Optional.empty();
    }

    @Override
    public Optional<BsonDocument> visit(Condition.OfManyParents condition) {
        return Optional.empty();
    }

    @Override
    public Optional<BsonDocument> visit(Condition.OfChildren condition) {
        return Optional.empty();
    }

    @Override
    public Optional<BsonDocument> visit(Condition.AnyOf condition) {
        List<Optional<BsonDocument>> parts = parts(condition.parts());
        return parts.stream().allMatch(Optional::isPresent)
                ? Optional.of(new BsonDocument(
                        "$or",
                        new BsonArray(parts.stream().flatMap(Optional::stream).toList())))
                : Optional.empty();
    }

    @Override
    public Optional<BsonDocument> visit(Condition.AllOf condition) {
        List<Optional<BsonDocument>> parts = parts(condition.parts());
        return parts.stream().allMatch(Optional::isPresent)
                ? Optional.of(all(parts.stream().flatMap(Optional::stream).toList()))
                : Optional.empty();
    }

    private List<Optional<BsonDocument>> parts(List<Condition> parts) {
        return parts.stream().map(part -> part.accept(this)).toList();
    }

    /** What is compared with a missing value is unknown, and its contrary too. */
    @Override
    public Optional<BsonDocument> visit(Condition.Not condition) {
        Optional<BsonDocument> part = condition.part().accept(this);
        if (part.isEmpty() || condition.part() instanceof Condition.IsNull) {
            return part.map(Filters::not);
        }
        List<BsonDocument> known = condition
                .part()
                .asked(null)
                .map(asked -> at(asked.column(), "$ne", BsonNull.VALUE))
                .toList();
        return Optional.of(
                all(Stream.concat(Stream.of(not(part.get())), known.stream()).toList()));
    }

    @Override
    public Optional<BsonDocument> visit(Condition.Except condition) {
        return condition.part().accept(this).map(Filters::not);
    }

    private static BsonDocument not(BsonDocument filter) {
        return new BsonDocument("$nor", new BsonArray(List.of(filter)));
    }
}
