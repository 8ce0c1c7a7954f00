package dev.vacancy.cli.configuration;

import com.mongodb.ConnectionString;
import com.mongodb.MongoClientSettings;
import com.mongodb.MongoCredential;
import com.mongodb.MongoException;
import com.mongodb.MongoSecurityException;
import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoClients;
import dev.vacancy.Vacancy;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.documents.Documents;
import dev.vacancy.internal.yaml.Address;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.schedule.ScheduledRuns;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.bson.BsonDocument;
import org.bson.BsonInt32;

/** A database of documents. */
record OpenDocuments(MongoClient client, String name) implements OpenDatabase {
    private static final int LONGEST_WAIT_SECONDS = 10;
    private static final Pattern SOURCE = Pattern.compile("[?&]authSource=([^&]+)", Pattern.CASE_INSENSITIVE);

    /** Whether an address is of documents. */
    static boolean isAt(Address address) {
        return address.url().startsWith("mongodb:") || address.url().startsWith("mongodb+srv:");
    }

    static OpenDocuments open(Address address, String password) {
        ConnectionString url = url(address);
        MongoClientSettings.Builder settings = MongoClientSettings.builder()
                .applyConnectionString(url)
                .applyToClusterSettings(
                        cluster -> cluster.serverSelectionTimeout(LONGEST_WAIT_SECONDS, TimeUnit.SECONDS));
        if (!address.user().isEmpty()) {
            Matcher source = SOURCE.matcher(address.url());
            settings.credential(MongoCredential.createCredential(
                    address.user(), source.find() ? source.group(1) : "admin", password.toCharArray()));
        }
        MongoClient client = MongoClients.create(settings.build());
        try {
            client.getDatabase(url.getDatabase()).runCommand(new BsonDocument("ping", new BsonInt32(1)));
            return new OpenDocuments(client, url.getDatabase());
        } catch (MongoException failure) {
            client.close();
            throw Connecting.refusal(address, failure);
        }
    }

    private static ConnectionString url(Address address) {
        try {
            ConnectionString url = new ConnectionString(address.url());
            if (url.getDatabase() != null) {
                return url;
            }
        } catch (IllegalArgumentException otherwise) {
            throw new ToolException(
                    ExitStatus.WRONG_USAGE,
                    "The URL '" + address.url() + "' can't be read: " + otherwise.getMessage() + ".",
                    "Write it like mongodb://localhost:27017/larkmoor.",
                    otherwise);
        }
        throw ToolException.wrongUsage(
                "The URL '" + address.url() + "' names no database.",
                "Write the database behind the server, like mongodb://localhost:27017/larkmoor.");
    }

    static boolean isRefusal(Throwable why) {
        return why instanceof MongoSecurityException;
    }

    @Override
    public Vacancy vacancy(RuleBook rules) {
        return Documents.over(client, name, rules);
    }

    @Override
    public List<Finding> check(RuleBook rules) {
        return Documents.check(client, name, rules);
    }

    @Override
    public Optional<ScheduledRuns> scheduled(Vacancy vacancy) {
        return Optional.empty();
    }

    @Override
    public Ddl ddl(RuleBook rules, Ddl.Part... parts) {
        throw notOffered("DDL is");
    }

    @Override
    public boolean make(Ddl.Part... parts) {
        return false;
    }

    private static ToolException notOffered(String what) {
        return ToolException.wrongUsage(
                what + " offered on relational databases only.",
                "Documents need no tables of Vacancy: its collections are made where they are needed.");
    }

    @Override
    public void close() {
        client.close();
    }
}
