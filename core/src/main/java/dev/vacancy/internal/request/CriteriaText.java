package dev.vacancy.internal.request;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.math.BigDecimal;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.function.BinaryOperator;
import java.util.function.Function;
import java.util.regex.MatchResult;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import net.sf.jsqlparser.JSQLParserException;
import net.sf.jsqlparser.expression.BinaryExpression;
import net.sf.jsqlparser.expression.BooleanValue;
import net.sf.jsqlparser.expression.DateTimeLiteralExpression;
import net.sf.jsqlparser.expression.DoubleValue;
import net.sf.jsqlparser.expression.Expression;
import net.sf.jsqlparser.expression.JdbcNamedParameter;
import net.sf.jsqlparser.expression.LongValue;
import net.sf.jsqlparser.expression.NotExpression;
import net.sf.jsqlparser.expression.SignedExpression;
import net.sf.jsqlparser.expression.StringValue;
import net.sf.jsqlparser.expression.operators.conditional.AndExpression;
import net.sf.jsqlparser.expression.operators.conditional.OrExpression;
import net.sf.jsqlparser.expression.operators.relational.Between;
import net.sf.jsqlparser.expression.operators.relational.ComparisonOperator;
import net.sf.jsqlparser.expression.operators.relational.EqualsTo;
import net.sf.jsqlparser.expression.operators.relational.GreaterThan;
import net.sf.jsqlparser.expression.operators.relational.GreaterThanEquals;
import net.sf.jsqlparser.expression.operators.relational.InExpression;
import net.sf.jsqlparser.expression.operators.relational.IsNullExpression;
import net.sf.jsqlparser.expression.operators.relational.LikeExpression;
import net.sf.jsqlparser.expression.operators.relational.MinorThan;
import net.sf.jsqlparser.expression.operators.relational.MinorThanEquals;
import net.sf.jsqlparser.expression.operators.relational.NotEqualsTo;
import net.sf.jsqlparser.expression.operators.relational.ParenthesedExpressionList;
import net.sf.jsqlparser.parser.CCJSqlParserUtil;
import net.sf.jsqlparser.schema.Column;

/**
 * Reads criteria from text. A package parses it; of the tree that comes back, only the kinds of nodes named here become
 * criteria, and everything else is refused. No part of the text is ever handed on to a database.
 */
public final class CriteriaText {
    private static final int LONGEST_TEXT = 16_000_000;
    private static final int DEEPEST_NESTING = 12;
    private static final int LONGEST_PARSING_MILLIS = 60_000;
    private static final String ALLOWED = "Allowed are: column = value, <>, <, <=, >, >=, IN (…), BETWEEN … AND …, LIKE"
            + " '…', IS NULL, AND, OR, NOT and parentheses; values are numbers, 'text', '2026-05-31', true, false, today,"
            + " now and today - 90 days.";

    private static final Pattern POSITION = Pattern.compile("column (\\d+)");
    private static final Pattern UNDERSTOOD = Pattern.compile("(?s)could only parse partial expression (.*)");

    private final String text;
    private final MarkedText marked;
    private final Optional<Function<String, Object>> parameters;

    private CriteriaText(String text, Optional<Function<String, Object>> parameters) {
        this.text = text;
        this.marked = new MarkedText(text);
        this.parameters = parameters;
    }

    public static Criteria parse(String text) {
        return parse(text, Optional.empty());
    }

    /**
     * Reads a text in which values may be named, such as {@code village = :village}, as application code declares it.
     *
     * @param text the condition
     * @param parameters gives the value of each name; a collection stands for its members where it is one of a list
     */
    public static Criteria parse(String text, Function<String, Object> parameters) {
        return parse(text, Optional.of(parameters));
    }

    private static Criteria parse(String text, Optional<Function<String, Object>> parameters) {
        try {
            return new CriteriaText(text, parameters).parse();
        } catch (StackOverflowError deep) {
            throw new InvalidRequestException(
                    FailureCode.CRITERIA_SYNTAX, "The criteria is nested too deeply.", "Say the same more plainly.");
        }
    }

    private Criteria parse() {
        if (text.isBlank()) {
            throw new InvalidRequestException(
                    FailureCode.CRITERIA_MISSING,
                    "The criteria is empty; an empty criteria never means all records.",
                    ALLOWED);
        }
        if (text.chars().anyMatch(Character::isISOControl)) {
            throw new InvalidRequestException(
                    FailureCode.CRITERIA_SYNTAX,
                    "The criteria has a control character in it.",
                    "Write it on one line, without tabs.");
        }
        if (text.length() > LONGEST_TEXT) {
            throw new InvalidRequestException(
                    FailureCode.CRITERIA_SYNTAX,
                    "The criteria has " + text.length() + " characters.",
                    "Make it " + LONGEST_TEXT + " at most.");
        }
        refuseWhatTheParserWouldPassOver(marked.readable());
        try {
            return criteria(CCJSqlParserUtil.parseCondExpression(
                    marked.readable(), false, parser -> parser.withTimeOut(LONGEST_PARSING_MILLIS)));
        } catch (JSQLParserException wrong) {
            throw refused(position(wrong), "it is not understood");
        } catch (RuntimeException wrong) {
            if (wrong instanceof InvalidRequestException ours) {
                throw ours;
            }
            throw refused(1, "it is not understood");
        }
    }

    private void refuseWhatTheParserWouldPassOver(String readable) {
        int depth = 0;
        boolean quoted = false;
        for (int i = 0; i < readable.length(); i++) {
            char next = readable.charAt(i);
            quoted = quoted != (next == '\'');
            if (quoted) {
                continue;
            }
            depth += next == '(' ? 1 : next == ')' ? -1 : 0;
            if (depth > DEEPEST_NESTING) {
                throw refused(marked.typed(i + 1), "parentheses are nested more than " + DEEPEST_NESTING + " deep");
            }
            if (";`[]{}\\?@#$&|^~".indexOf(next) >= 0
                    || (next == ':' && parameters.isEmpty())
                    || readable.startsWith("--", i)
                    || readable.startsWith("/*", i)) {
                throw refused(marked.typed(i + 1), "'" + next + "' has no meaning here");
            }
        }
    }

    /** Joins a row of ANDs or ORs, which the parser nests to the left, thousands deep if there are as many. */
    private <T extends BinaryExpression> Criteria row(T last, Class<T> kind, BinaryOperator<Criteria> join) {
        Deque<Expression> operands = new ArrayDeque<>();
        Expression next = last;
        while (kind.isInstance(next) && !(next instanceof AndExpression and && and.isUseOperator())) {
            operands.push(kind.cast(next).getRightExpression());
            next = kind.cast(next).getLeftExpression();
        }
        Criteria whole = criteria(next);
        for (Expression operand : operands) {
            whole = join.apply(whole, criteria(operand));
        }
        return whole;
    }

    private Criteria criteria(Expression node) {
        if (node instanceof ParenthesedExpressionList<?> list && list.size() == 1) {
            return criteria(list.get(0));
        }
        if (node instanceof AndExpression and && !and.isUseOperator()) {
            return row(and, AndExpression.class, Criteria::and);
        }
        if (node instanceof OrExpression or) {
            return row(or, OrExpression.class, Criteria::or);
        }
        if (node instanceof NotExpression not && !not.isExclamationMark()) {
            return criteria(not.getExpression()).not();
        }
        if (node instanceof ComparisonOperator comparison && comparison.getOldOracleJoinSyntax() == 0) {
            return new CriteriaNode.Compares(
                    column(comparison.getLeftExpression()),
                    comparison(comparison),
                    value(comparison.getRightExpression()));
        }
        if (node instanceof Between between && !between.isUsingSymmetric() && !between.isUsingAsymmetric()) {
            Criteria range = Criteria.column(column(between.getLeftExpression()))
                    .between(value(between.getBetweenExpressionStart()), value(between.getBetweenExpressionEnd()));
            return between.isNot() ? range.not() : range;
        }
        if (node instanceof InExpression in && in.getRightExpression() instanceof ParenthesedExpressionList<?> list) {
            List<Object> values = new ArrayList<>();
            for (Expression item : list) {
                Object value = value(item);
                values.addAll(value instanceof Collection<?> several ? several : List.of(value));
            }
            Criteria among = new CriteriaNode.In(column(in.getLeftExpression()), values);
            return in.isNot() ? among.not() : among;
        }
        if (node instanceof LikeExpression like
                && like.getLikeKeyWord() == LikeExpression.KeyWord.LIKE
                && like.getEscape() == null
                && !like.isUseBinary()) {
            Criteria pattern = new CriteriaNode.Like(
                    column(like.getLeftExpression()),
                    value(like.getRightExpression()).toString());
            return like.isNot() ? pattern.not() : pattern;
        }
        if (node instanceof IsNullExpression isNull && !isNull.isUseIsNull() && !isNull.isUseNotNull()) {
            Criteria missing = new CriteriaNode.IsNull(column(isNull.getLeftExpression()));
            return isNull.isNot() ? missing.not() : missing;
        }
        throw refused(node, "is no condition on a column");
    }

    private Comparison comparison(ComparisonOperator node) {
        if (node instanceof EqualsTo) {
            return Comparison.EQUAL;
        }
        if (node instanceof NotEqualsTo) {
            return Comparison.NOT_EQUAL;
        }
        if (node instanceof MinorThan) {
            return Comparison.LESS;
        }
        if (node instanceof MinorThanEquals) {
            return Comparison.AT_MOST;
        }
        if (node instanceof GreaterThan) {
            return Comparison.GREATER;
        }
        if (node instanceof GreaterThanEquals) {
            return Comparison.AT_LEAST;
        }
        throw refused(node, "is no comparison that is known here");
    }

    private String column(Expression node) {
        if (node instanceof Column column && column.getArrayConstructor() == null) {
            return bare(column);
        }
        throw refused(node, "stands where a column's name is expected");
    }

    private static String bare(Column column) {
        return column.getFullyQualifiedName().replace("\"", "");
    }

    private Object value(Expression node) {
        if (node instanceof Column name) {
            throw refused(node, "is a column's name where a value is expected; text is '" + bare(name) + "'");
        }
        if (node instanceof JdbcNamedParameter named && parameters.isPresent()) {
            return parameters.get().apply(named.getName());
        }
        if (node instanceof StringValue string && string.getPrefix() == null) {
            String value = string.getNotExcapedValue();
            return marked.moment(value).<Object>map(moment -> moment).orElse(value);
        }
        if (node instanceof LongValue || node instanceof DoubleValue) {
            return number(node.toString());
        }
        if (node instanceof SignedExpression signed
                && (signed.getExpression() instanceof LongValue || signed.getExpression() instanceof DoubleValue)) {
            return number((signed.getSign() == '-' ? "-" : "") + signed.getExpression());
        }
        if (node instanceof BooleanValue truth) {
            return truth.getValue();
        }
        if (node instanceof DateTimeLiteralExpression literal) {
            return literal.getValue().replace("'", "").replace(' ', 'T');
        }
        throw refused(node, "stands where a value is expected");
    }

    /** A number if it is written as one usually is; else the text, for the column's type to judge. */
    private static Object number(String text) {
        BigDecimal number = new BigDecimal(text);
        return number.toString().equals(text) ? number : text;
    }

    private InvalidRequestException refused(Expression node, String why) {
        return marked.place(node.toString())
                .map(place -> refused(place.start() + 1, "'" + place.group() + "' " + why))
                .orElseGet(() -> refused(1, "'" + node + "' " + why));
    }

    private InvalidRequestException refused(int position, String why) {
        return new InvalidRequestException(
                        FailureCode.CRITERIA_SYNTAX,
                        "The criteria can't be used from character " + position + " on: " + why + ".",
                        ALLOWED)
                .about("position", position);
    }

    private int position(JSQLParserException wrong) {
        String message = String.valueOf(wrong.getMessage());
        Matcher understood = UNDERSTOOD.matcher(message);
        if (understood.matches()) {
            int end = marked.place(understood.group(1)).map(MatchResult::end).orElse(0);
            return 1 + text.length() - text.substring(end).stripLeading().length();
        }
        Matcher position = POSITION.matcher(message);
        return position.find() ? marked.typed(Integer.parseInt(position.group(1))) : 1;
    }
}
