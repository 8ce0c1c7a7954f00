package dev.vacancy.internal.condition;

import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.KeySet;
import dev.vacancy.internal.dialect.Statements;
import java.util.ArrayList;
import java.util.List;

/**
 * Renders conditions in SQL. Names reach the database quoted, values bound.
 *
 * @since 0.1
 */
public final class SqlCondition implements ConditionVisitor<Fragment> {
    private static final Fragment NOTHING = Fragment.of("1 = 0");

    private final Dialect dialect;
    private final String alias;

    private SqlCondition(Dialect dialect, String alias) {
        this.dialect = dialect;
        this.alias = alias;
    }

    /**
     * Renders a condition.
     *
     * @param condition the condition
     * @param dialect the dialect of the database
     * @param alias what the table is called whose records it picks
     * @return a condition with its bound values
     */
    public static Fragment of(Condition condition, Dialect dialect, String alias) {
        return condition.accept(new SqlCondition(dialect, alias));
    }

    /**
     * Renders a condition as alternatives: a record that meets one of them is picked.
     *
     * @param condition the condition
     * @param dialect the dialect of the database
     * @return conditions with their bound values, on the table that a statement is about
     */
    public static List<Fragment> alternatives(Condition condition, Dialect dialect) {
        List<Condition> parts = condition instanceof Condition.AnyOf any ? any.parts() : List.of(condition);
        return new SqlCondition(dialect, Statements.alias()).all(parts);
    }

    private List<Fragment> all(List<Condition> parts) {
        return parts.stream().map(part -> part.accept(this)).toList();
    }

    @Override
    public Fragment visit(Condition.Among condition) {
        return condition.keys().isEmpty()
                ? NOTHING
                : dialect.among(
                        dialect.names(alias, condition.columns()),
                        new KeySet(
                                condition.columns().stream().map(ColumnType::of).toList(), condition.keys()));
    }

    @Override
    public Fragment visit(Condition.Pictured condition) {
        return dialect.pictured(
                dialect.names(alias, condition.columns()),
                condition.columns().stream().map(ColumnType::of).toList(),
                condition.images());
    }

    @Override
    public Fragment visit(Condition.Referring condition) {
        List<ColumnType> types =
                condition.link().parentColumns().stream().map(ColumnType::of).toList();
        return condition.references().isEmpty()
                ? NOTHING
                : dialect.among(dialect.foreignKey(alias, condition.link()), new KeySet(types, condition.references()));
    }

    @Override
    public Fragment visit(Condition.Compares condition) {
        return dialect.codec(condition.column())
                .compared(
                        dialect.name(alias, condition.column()),
                        condition.comparison().sql(),
                        condition.value());
    }

    @Override
    public Fragment visit(Condition.Means condition) {
        String comparand = dialect.codec(condition.column()).comparand(dialect.name(alias, condition.column()));
        return dialect.codec(condition.column()).value(condition.value()).between(comparand + " = ", "");
    }

    @Override
    public Fragment visit(Condition.OneOf condition) {
        return dialect.oneOf(
                dialect.name(alias, condition.column()), ColumnType.of(condition.column()), condition.values());
    }

    @Override
    public Fragment visit(Condition.Like condition) {
        return dialect.codec(condition.column()).like(dialect.name(alias, condition.column()), condition.pattern());
    }

    @Override
    public Fragment visit(Condition.IsNull condition) {
        return Fragment.of(dialect.name(alias, condition.column()) + " is null");
    }

    @Override
    public Fragment visit(Condition.Sibling condition) {
        String inside = Statements.aliasInside(alias);
        List<String> own = dialect.names(alias, condition.key());
        List<String> others = dialect.names(inside, condition.key());
        List<Fragment> parts = new ArrayList<>();
        for (int i = 0; i < own.size(); i++) {
            parts.add(Fragment.of(others.get(i) + " = " + own.get(i)));
        }
        // Of the rows of one key there are few, so what is meant may be compared, whatever it costs.
        condition
                .after()
                .ifPresent(column -> parts.add(Fragment.of(dialect.codec(column).comparand(dialect.name(inside, column))
                        + " > " + dialect.codec(column).comparand(dialect.name(alias, column)))));
        condition.that().ifPresent(that -> parts.add(of(that, dialect, inside)));
        return Fragment.allOf(parts)
                .between("exists (select 1 from " + dialect.name(condition.table()) + " as " + inside + " where ", ")");
    }

    @Override
    public Fragment visit(Condition.Any condition) {
        return Fragment.of("1 = 1");
    }

    @Override
    public Fragment visit(Condition.OfParent condition) {
        String inside = Statements.aliasInside(alias);
        Fragment parents = of(condition.condition(), dialect, inside)
                .between(dialect.name(condition.link().parent()) + " as " + inside + " where ", "");
        return dialect.among(
                dialect.foreignKey(alias, condition.link()),
                "select ",
                dialect.referenced(inside, condition.link()),
                parents.between(" from ", ""));
    }

    @Override
    public Fragment visit(Condition.OfManyParents condition) {
        String inside = Statements.aliasInside(alias);
        return dialect.amongMany(
                dialect.foreignKey(alias, condition.link()),
                dialect.name(condition.link().parent()) + " as " + inside,
                dialect.referenced(inside, condition.link()),
                of(condition.condition(), dialect, inside));
    }

    @Override
    public Fragment visit(Condition.OfChildren condition) {
        String inside = Statements.aliasInside(alias);
        Fragment children = of(condition.condition(), dialect, inside)
                .between(dialect.name(condition.link().child()) + " as " + inside + " where ", "");
        return dialect.among(
                dialect.referenced(alias, condition.link()),
                "select ",
                dialect.foreignKey(inside, condition.link()),
                children.between(" from ", ""));
    }

    @Override
    public Fragment visit(Condition.AnyOf condition) {
        return Fragment.joinAll(" or ", all(condition.parts()));
    }

    @Override
    public Fragment visit(Condition.AllOf condition) {
        return Fragment.allOf(all(condition.parts()));
    }

    @Override
    public Fragment visit(Condition.Not condition) {
        return condition.part() instanceof Condition.OneOf oneOf
                ? dialect.noneOf(dialect.name(alias, oneOf.column()), ColumnType.of(oneOf.column()), oneOf.values())
                : condition.part().accept(this).between("not (", ")");
    }

    @Override
    public Fragment visit(Condition.Except condition) {
        // Not every database can parse IS NOT TRUE behind every condition.
        return condition.part().accept(this).between("case when ", " then 1 else 0 end = 0");
    }
}
