package dev.vacancy.followup;

import dev.vacancy.By;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.Period;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/** Hives with photos, whose files follow them; keepers are soft-deleted. */
final class Photos {
    static final By ODILE = By.user("odile").because("colony lost");

    static final RuleBook RULES = RuleBook.bySchema()
            .on("photo.hive_id", Clause.cascade())
            .on("hive.keeper_id", Clause.detach())
            .marker("keeper", Marker.timestamp("left_at"))
            .soft("keeper", SoftDelete.defaults().keptFor(Period.ofDays(30)))
            .trail(Trail.defaults())
            .followUp("photo", FollowUp.named("files").columns("path"))
            .followUp("keeper", FollowUp.named("files").columns("portrait"))
            .followUp("hive", FollowUp.named("search").columns("name", "keeper_id"));

    private Photos() {}

    static Database on(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id integer primary key, portrait varchar(40), left_at timestamp null)",
                        "create table hive (hive_id integer primary key, name varchar(40), keeper_id integer,"
                                + " foreign key (keeper_id) references keeper (keeper_id))",
                        "create table photo (photo_id integer primary key, hive_id integer not null, path varchar(40),"
                                + " foreign key (hive_id) references hive (hive_id))",
                        "insert into keeper values (1, 'odile.jpg', null), (2, 'una.jpg', null)",
                        "insert into hive values (1, 'Fellside One', 1), (2, 'Bramble One', 2), (3, 'Bramble Two', 2)",
                        "insert into photo values (10, 1, 'a/10.jpg'), (11, 1, 'a/11.jpg'), (20, 2, 'b/20.jpg')");
        Ddl.of(database.source(), RULES).apply();
        return database;
    }

    static Vacancy vacancy(Database database, Clock clock) {
        return Vacancy.over(database.source(), RULES, clock);
    }

    /** A clock that a test sets. */
    static final class Watch extends Clock {
        private Instant now = Instant.parse("2026-03-01T08:00:00Z");

        void pass(Duration time) {
            now = now.plus(time);
        }

        @Override
        public Instant instant() {
            return now;
        }

        @Override
        public ZoneId getZone() {
            return ZoneOffset.UTC;
        }

        @Override
        public Clock withZone(ZoneId zone) {
            return this;
        }
    }

    /** Notes what it is handed. */
    static final class Notes implements FollowUpHandler {
        private final List<FollowUpMessage> messages = Collections.synchronizedList(new ArrayList<>());

        @Override
        public void handle(FollowUpMessage message) {
            messages.add(message);
        }

        List<FollowUpMessage> messages() {
            return messages;
        }

        /** Takes what was noted since the last time, in short. */
        List<String> taken() {
            List<String> taken = messages.stream()
                    .map(message -> message.action() + " " + message.table() + " "
                            + message.key().orElse("") + " "
                            + message.before().map(Object::toString).orElse("-") + " "
                            + message.after().map(Object::toString).orElse("-"))
                    .toList();
            messages.clear();
            return taken;
        }
    }
}
