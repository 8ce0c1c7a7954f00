package dev.vacancy.documents;

import static java.util.Objects.requireNonNull;

import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.DatabaseException;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Vacancy;
import dev.vacancy.documents.internal.BulkDocuments;
import dev.vacancy.documents.internal.DocumentCheck;
import dev.vacancy.documents.internal.DocumentDatabase;
import dev.vacancy.internal.engine.StoreEngine;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import java.time.Clock;
import java.time.ZoneId;
import java.util.List;

/**
 * Deletes documents: works out all that refers to them, lets somebody agree to exactly that, and carries it out.
 *
 * <pre>{@code
 * Vacancy vacancy = Documents.over(client, "larkmoor", RuleBook.bySchema()
 *         .link("reading.hive", "hive").on("reading.hive", Clause.cascade())
 *         .link("photo.hives", "hive").on("photo.hives", Clause.detach()));
 * Outcome outcome = vacancy.delete(Selection.of("hive").key(id), By.program("nightly"));
 * }</pre>
 *
 * <p>A collection is a table and a document a record, known by its {@code _id}. A field is a column; one that is embedded is named by its path,
 * {@code place.yard}, through the elements of arrays too. Documents say nothing of what they refer to, so all links are the rules'; the field of a
 * link may be embedded, stand in the elements of an array, or be an array itself, of which the fitting elements are taken when a document is
 * detached. What is embedded goes with its document.
 *
 * <p>What fields there are, and of which types, is seen by a sample of each collection, when the {@link Vacancy} is made.
 *
 * <p>Where the server says that it has transactions, one holds a run of up to 1,000 changed documents. Any other run writes down what it means to do, in collections of its own, and marks each document in a field {@code vacancy_run},
 * if it is as planned and no other run's, before it changes any; then it changes them, children before parents. If a document is another by then, all is taken back;
 * if the process ends in the middle, the run is finished or taken back by whoever makes a {@code Vacancy} over the same database next, from a minute later on.
 *
 * @since 0.1
 */
public final class Documents {
    private Documents() {}

    /**
     * Looks at the collections of a database, and holds the application's rules against them.
     *
     * @param client the driver's client, which stays the caller's
     * @param database the name of the database
     * @param rules what refers to what, and what becomes of it
     * @return the entry to all else; what is offered on relational databases only is refused, by the code
     *     {@link dev.vacancy.FailureCode#NOT_OFFERED}
     * @throws DatabaseException when the server can't be reached
     * @throws RulesException when the rules name what isn't there or ask for what can't be kept; all problems at once
     * @throws InvalidRequestException when the rules ask for what documents aren't offered
     */
    public static Vacancy over(MongoClient client, String database, RuleBook rules) {
        return over(client, database, rules, Clock.system(ZoneId.systemDefault()));
    }

    /**
     * Does the same with a clock of the caller's.
     *
     * @param client the driver's client, which stays the caller's
     * @param database the name of the database
     * @param rules what refers to what, and what becomes of it
     * @param clock tells when plans are made and runs begin, and what "today" is
     * @return the entry to all else
     * @throws DatabaseException when the server can't be reached
     * @throws RulesException when the rules name what isn't there or ask for what can't be kept; all problems at once
     * @throws InvalidRequestException when the rules ask for what documents aren't offered
     */
    public static Vacancy over(MongoClient client, String database, RuleBook rules, Clock clock) {
        requireNonNull(client, "client");
        requireNonNull(database, "database");
        requireNonNull(rules, "rules");
        requireNonNull(clock, "clock");
        MongoDatabase documents = client.getDatabase(database);
        DocumentDatabase found = DocumentDatabase.of(client, database, rules, clock);
        return StoreEngine.over(found, found.history(), new BulkDocuments(documents, clock), rules, clock)
                .entry();
    }

    /**
     * Looks for what is wrong or risky in collections and in the rules for them: rules that can't be kept, fields of links that no index finds or whose
     * types differ from what they refer to, documents whose parent is gone already, fields that look like a link and of which the rules say nothing,
     * runs that were cut off.
     *
     * @param client the driver's client, which stays the caller's
     * @param database the name of the database
     * @param rules what refers to what, and what becomes of it
     * @return what was found, each with why it matters and the remedy; empty if all is well
     * @throws DatabaseException when the server can't be reached
     */
    public static List<Finding> check(MongoClient client, String database, RuleBook rules) {
        requireNonNull(client, "client");
        requireNonNull(database, "database");
        requireNonNull(rules, "rules");
        return DocumentCheck.findings(client.getDatabase(database), rules, Clock.system(ZoneId.systemDefault()));
    }
}
