package dev.vacancy.hibernate;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import jakarta.persistence.CascadeType;
import jakarta.persistence.CollectionTable;
import jakarta.persistence.Column;
import jakarta.persistence.ConstraintMode;
import jakarta.persistence.DiscriminatorValue;
import jakarta.persistence.ElementCollection;
import jakarta.persistence.Embeddable;
import jakarta.persistence.Embedded;
import jakarta.persistence.Entity;
import jakarta.persistence.EntityManager;
import jakarta.persistence.EntityManagerFactory;
import jakarta.persistence.FetchType;
import jakarta.persistence.ForeignKey;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Inheritance;
import jakarta.persistence.InheritanceType;
import jakarta.persistence.JoinColumn;
import jakarta.persistence.ManyToMany;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.MapKeyJoinColumn;
import jakarta.persistence.MappedSuperclass;
import jakarta.persistence.OneToMany;
import jakarta.persistence.OneToOne;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.io.Serializable;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiConsumer;
import org.hibernate.annotations.AnyDiscriminatorValue;
import org.hibernate.annotations.AnyKeyJavaClass;
import org.hibernate.annotations.NotFound;
import org.hibernate.annotations.NotFoundAction;
import org.hibernate.annotations.OnDelete;
import org.hibernate.annotations.OnDeleteAction;
import org.hibernate.annotations.SQLDelete;
import org.hibernate.annotations.SoftDelete;
import org.hibernate.jpa.HibernatePersistenceConfiguration;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Mappings that most applications have one of. */
class OddMappingsTest {
    private static final By UNA = By.user("una");

    /** What every record of a shipyard has. */
    @MappedSuperclass
    abstract static class Kept {
        @Id
        @GeneratedValue
        Long id;

        @Version
        Instant changedAt;

        @OneToMany(cascade = CascadeType.ALL)
        List<Remark> remarks = new ArrayList<>();
    }

    @Entity(name = "Remark")
    static class Remark {
        @Id
        @GeneratedValue
        Long id;

        String text = "well done";
    }

    /** One table for all kinds of work; only repairs have parts. */
    @Entity(name = "Job")
    @Inheritance(strategy = InheritanceType.SINGLE_TABLE)
    static class Job extends Kept {
        @ManyToOne
        Yard yard;
    }

    @Entity(name = "Repair")
    @DiscriminatorValue("R")
    static class Repair extends Job {
        @OneToMany(mappedBy = "repair", cascade = CascadeType.REMOVE)
        List<Part> parts = new ArrayList<>();

        @OneToOne(cascade = CascadeType.ALL, orphanRemoval = true)
        Quote quote;
    }

    record PartId(Long repair, int place) implements Serializable {}

    @Entity(name = "Part")
    @IdClass(PartId.class)
    static class Part {
        @Id
        @ManyToOne
        Repair repair;

        @Id
        int place;

        Part() {}

        Part(Repair repair, int place) {
            this.repair = repair;
            this.place = place;
        }
    }

    @Entity(name = "Quote")
    static class Quote {
        @Id
        @GeneratedValue
        Long id;

        int price = 100;
    }

    @Embeddable
    static class Shift {
        @ManyToOne(fetch = FetchType.LAZY)
        @JoinColumn(name = "hand_id")
        Hand hand;

        int hours = 8;
    }

    @Embeddable
    static class Lead {
        @ManyToOne
        @JoinColumn(name = "lead_id")
        Hand hand;
    }

    /** With names that have to be quoted, and in a schema of its own word. */
    @Entity(name = "Yard")
    @Table(name = "`Order`")
    static class Yard extends Kept {
        @Column(name = "`Group`")
        String group;

        @Embedded
        Lead lead = new Lead();

        @ElementCollection
        @CollectionTable(name = "yard_shift")
        Set<Shift> shifts = new HashSet<>();

        @ElementCollection
        @CollectionTable(name = "yard_wage")
        @MapKeyJoinColumn(name = "hand_id")
        Map<Hand, Integer> wages = new HashMap<>();

        @ManyToMany(cascade = CascadeType.REMOVE)
        @SoftDelete
        Set<Tool> tools = new HashSet<>();

        @OneToMany(mappedBy = "yard")
        @OnDelete(action = OnDeleteAction.CASCADE)
        List<Shed> sheds = new ArrayList<>();

        @org.hibernate.annotations.Any
        @AnyKeyJavaClass(Long.class)
        @AnyDiscriminatorValue(discriminator = "H", entity = Hand.class)
        @JoinColumn(name = "about_id")
        @Column(name = "about_type")
        Object about;
    }

    @Entity(name = "Shed")
    static class Shed {
        @Id
        @GeneratedValue
        Long id;

        @ManyToOne
        @OnDelete(action = OnDeleteAction.CASCADE)
        Yard yard;

        /** Whichever it is, in the same column. */
        @ManyToOne
        @JoinColumn(
                name = "about_id",
                insertable = false,
                updatable = false,
                foreignKey = @ForeignKey(ConstraintMode.NO_CONSTRAINT))
        Tool tool;

        @ManyToOne
        @JoinColumn(
                name = "about_id",
                insertable = false,
                updatable = false,
                foreignKey = @ForeignKey(ConstraintMode.NO_CONSTRAINT))
        Hand hand;
    }

    @Entity(name = "Tool")
    static class Tool {
        @Id
        @GeneratedValue
        Long id;
    }

    @Entity(name = "Hand")
    @SQLDelete(sql = "update Hand set left_on = current_date where id = ?")
    static class Hand {
        @Id
        @GeneratedValue
        Long id;

        @ManyToOne
        @NotFound(action = NotFoundAction.IGNORE)
        Vehicle vehicle;

        @ManyToOne
        @NotFound(action = NotFoundAction.IGNORE)
        @JoinColumn(name = "mentor_id")
        Hand mentor;

        java.time.LocalDate left_on;
    }

    /** Each kind in a table of its own. */
    @Entity(name = "Vehicle")
    @Inheritance(strategy = InheritanceType.TABLE_PER_CLASS)
    abstract static class Vehicle {
        @Id
        @GeneratedValue
        Long id;
    }

    @Entity(name = "Van")
    static class Van extends Vehicle {
        @ElementCollection
        @CollectionTable(name = "van_load")
        List<String> cargo = new ArrayList<>(List.of("planks"));
    }

    private static void with(Engine engine, BiConsumer<Database, EntityManagerFactory> work) {
        Database database = engine.database();
        try (EntityManagerFactory factory = new HibernatePersistenceConfiguration("yard")
                .managedClasses(
                        Remark.class,
                        Job.class,
                        Repair.class,
                        Part.class,
                        Quote.class,
                        Yard.class,
                        Shed.class,
                        Tool.class,
                        Hand.class,
                        Vehicle.class,
                        Van.class)
                .property("jakarta.persistence.nonJtaDataSource", database.source())
                .property("hibernate.hbm2ddl.auto", "create")
                .createEntityManagerFactory()) {
            work.accept(database, factory);
        }
    }

    private static Vacancy joined(
            Database database, EntityManagerFactory factory, EntityManager manager, RuleBook own) {
        EntityMapping mapping = EntityMapping.of(factory);
        Ddl.of(database.source(), mapping.rules(own)).apply();
        return mapping.attach(
                Vacancy.over(
                        database.source(), mapping.rules(own), HibernateTransactions.of(() -> Optional.of(manager))),
                () -> Optional.of(manager));
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void oddMappingsAreReadAndWhatCannotBeIsTold(Engine engine) {
        with(engine, (database, factory) -> {
            EntityMapping mapping = EntityMapping.of(factory);
            Vacancy vacancy = Vacancy.over(database.source(), mapping.rules());

            assertThat(mapping.derived(vacancy.catalog()))
                    .extracting(rule -> rule.toString().toLowerCase(Locale.ROOT))
                    .containsExactlyInAnyOrder(
                            "hand.mentor_id: keep, by hand.mentor (a reference)",
                            "job.quote_id: owns its parent, by repair.quote (orphanremoval)",
                            "job_remark.job_id: cascade, by job.remarks (a join table)",
                            "job_remark.remarks_id: owns its parent, by job.remarks (cascade remove)",
                            "order_remark.remarks_id: owns its parent, by yard.remarks (cascade remove)",
                            "order_remark.yard_id: cascade, by yard.remarks (a join table)",
                            "order_tool: soft, marked by deleted, by yard.tools (soft delete)",
                            "order_tool.tools_id: owns its parent, by yard.tools (cascade remove)",
                            "order_tool.yard_id: cascade, by yard.tools (a join table)",
                            "part.repair_id: cascade, by repair.parts (cascade remove)",
                            "van_load.van_id: cascade, by van.cargo (a collection of values)",
                            "yard_shift.yard_id: cascade, by yard.shifts (a collection of values)",
                            "yard_wage.yard_id: cascade, by yard.wages (a collection of values)");
            assertThat(mapping.check(vacancy.catalog()))
                    .extracting(finding -> (finding.where() + ": " + finding.why()).toLowerCase(Locale.ROOT))
                    .containsExactlyInAnyOrder(
                            "hand: its own sql deletes it, which no rule can be made of",
                            "hand.vehicle: vehicle has a table for each of its classes, so that no link can be made",
                            "job.changedat: it holds a time, so that a change of ours isn't counted by it",
                            "shed.hand: the columns shed.about_id point to records of several tables, of which no link can be made",
                            "shed.tool: the columns shed.about_id point to records of several tables, of which no link can be made",
                            "yard.about: it points to records of several tables, of which no link can be made",
                            "yard.changedat: it holds a time, so that a change of ours isn't counted by it");
        });
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void aWholeYardGoes(Engine engine) {
        with(engine, (database, factory) -> {
            factory.runInTransaction(manager -> {
                Hand hand = new Hand();
                Yard yard = new Yard();
                yard.group = "north";
                yard.lead.hand = hand;
                Shift shift = new Shift();
                shift.hand = hand;
                yard.shifts.add(shift);
                yard.wages.put(hand, 12);
                Tool saw = new Tool();
                yard.tools.add(saw);
                yard.remarks.add(new Remark());
                Repair repair = new Repair();
                repair.quote = new Quote();
                repair.yard = yard;
                Shed shed = new Shed();
                shed.yard = yard;
                Van van = new Van();
                hand.vehicle = van;
                List.of(van, hand, saw, yard, shed, repair, new Part(repair, 1), new Part(repair, 2))
                        .forEach(manager::persist);
            });
            factory.runInTransaction(manager -> {
                Vacancy vacancy = joined(database, factory, manager, RuleBook.bySchema());
                Repair repair = manager.createQuery("from Repair", Repair.class).getSingleResult();
                Part first = manager.find(Part.class, new PartId(repair.id, 1));
                assertThat(repair.parts).hasSize(2);

                Deletions<Part, PartId> parts = EntityMapping.of(factory).deletions(vacancy, Part.class);
                assertThat(parts.delete(new PartId(repair.id, 1), UNA).ids()).containsExactly(new PartId(repair.id, 1));
                assertThat(manager.contains(first)).isFalse();
                assertThat(repair.parts).extracting(part -> part.place).containsExactly(2);

                Deletions<Repair, Long> repairs = EntityMapping.of(factory).deletions(vacancy, Repair.class);
                EntityOutcome<Long> outcome = repairs.delete(repair.id, UNA);
                assertThat(outcome.outcome().total()).isEqualTo(3);
                assertThat(outcome.ids(Quote.class)).hasSize(1);

                Yard yard = manager.createQuery("from Yard", Yard.class).getSingleResult();
                assertThat(vacancy.delete(Selection.of("order").key(yard.id), UNA)
                                .total())
                        .isGreaterThan(5);
                assertThat(manager.createQuery("from Yard", Yard.class).getResultList())
                        .isEmpty();
            });
        });
    }
}
