package dev.vacancy.spring;

import dev.vacancy.CommitListener;
import dev.vacancy.Outcome;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.List;

/** Piers with berths, and a trail. */
final class Marina {
    static final RuleBook RULES = RuleBook.bySchema().trail(Trail.defaults());

    private Marina() {}

    static Database on(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table pier (pier_id integer primary key, name varchar(40) not null)",
                        "create table berth (berth_id integer primary key, pier_id integer not null,"
                                + " foreign key (pier_id) references pier (pier_id) on delete cascade)",
                        "create table mooring (mooring_id integer primary key, berth_id integer not null,"
                                + " foreign key (berth_id) references berth (berth_id))",
                        "insert into pier values (1, 'North'), (2, 'South')",
                        "insert into berth values (10, 1), (11, 1), (20, 2)",
                        "insert into mooring values (200, 20)");
        Ddl.of(database.source(), RULES).apply();
        return database;
    }

    static CommitListener into(List<String> heard) {
        return new CommitListener() {
            @Override
            public void deleted(Outcome outcome) {
                heard.add(outcome.table() + " " + outcome.total());
            }
        };
    }
}
