package dev.vacancy.hibernate;

import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import jakarta.persistence.Cacheable;
import jakarta.persistence.CascadeType;
import jakarta.persistence.CollectionTable;
import jakarta.persistence.Column;
import jakarta.persistence.ConstraintMode;
import jakarta.persistence.ElementCollection;
import jakarta.persistence.Embeddable;
import jakarta.persistence.EmbeddedId;
import jakarta.persistence.Entity;
import jakarta.persistence.EntityManager;
import jakarta.persistence.EntityManagerFactory;
import jakarta.persistence.FetchType;
import jakarta.persistence.ForeignKey;
import jakarta.persistence.Id;
import jakarta.persistence.Inheritance;
import jakarta.persistence.InheritanceType;
import jakarta.persistence.JoinColumn;
import jakarta.persistence.JoinTable;
import jakarta.persistence.ManyToMany;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.MapsId;
import jakarta.persistence.OneToMany;
import jakarta.persistence.OneToOne;
import jakarta.persistence.OrderColumn;
import jakarta.persistence.PrimaryKeyJoinColumn;
import jakarta.persistence.SecondaryTable;
import jakarta.persistence.Version;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.BiConsumer;
import java.util.function.UnaryOperator;
import org.hibernate.annotations.Cache;
import org.hibernate.annotations.CacheConcurrencyStrategy;
import org.hibernate.annotations.SoftDelete;
import org.hibernate.annotations.SoftDeleteType;
import org.hibernate.boot.model.naming.PhysicalNamingStrategySnakeCaseImpl;
import org.hibernate.jpa.HibernatePersistenceConfiguration;
import org.hibernate.type.YesNoConverter;

/** A marina as its application maps it: piers with berths, craft of two kinds, who sails them, and what is written about them. */
final class Marina implements AutoCloseable {
    final Database database;
    final EntityManagerFactory entities;
    final EntityMapping mapping;

    private Marina(Database database, EntityManagerFactory entities) {
        this.database = database;
        this.entities = entities;
        this.mapping = EntityMapping.of(entities);
    }

    static Marina on(Engine engine) {
        return on(engine.database(), "create");
    }

    static Marina on(Database database, String schema) {
        return new Marina(
                database,
                new HibernatePersistenceConfiguration("marina")
                        .managedClasses(
                                Pier.class,
                                Berth.class,
                                Craft.class,
                                Sailboat.class,
                                Launch.class,
                                Policy.class,
                                Design.class,
                                Lamp.class,
                                Tag.class,
                                Skipper.class,
                                Bill.class,
                                Survey.class,
                                Notice.class,
                                Club.class)
                        .property("jakarta.persistence.nonJtaDataSource", database.source())
                        .property("hibernate.hbm2ddl.auto", schema)
                        .property(
                                "hibernate.physical_naming_strategy",
                                PhysicalNamingStrategySnakeCaseImpl.class.getName())
                        .property("hibernate.cache.use_second_level_cache", true)
                        .property("hibernate.cache.use_query_cache", true)
                        .property("hibernate.cache.region.factory_class", "jcache")
                        .property("hibernate.javax.cache.missing_cache_strategy", "create")
                        .property("hibernate.generate_statistics", true)
                        .createEntityManagerFactory());
    }

    /** Piers, berths and craft to begin with: on North two berths with a sailboat and a launch, on South one that is free. */
    Marina filled() {
        transaction((manager, vacancy) -> {
            Pier north = new Pier(1, "North");
            Pier south = new Pier(2, "South");
            Berth first = new Berth(10, north);
            Berth second = new Berth(11, north);
            Skipper ida = new Skipper(1, "Ida");
            Sailboat heron = new Sailboat(100, "Heron", first, ida);
            heron.equipment.addAll(Set.of("anchor", "dinghy"));
            Launch otter = new Launch(101, "Otter", second, ida);
            Tag wooden = new Tag(1, "wooden");
            heron.tags.add(wooden);
            otter.tags.add(wooden);
            heron.design = new Design(7, "Ossian Weir");
            otter.design = heron.design;
            north.lamps.addAll(List.of(new Lamp(), new Lamp()));
            ida.bills.add(new Bill(500));
            List.of(north, south, ida, wooden, heron, otter).forEach(manager::persist);
            manager.persist(new Berth(20, south));
            manager.persist(new Policy(heron));
            manager.persist(new Survey(heron, LocalDate.of(2026, 5, 1)));
            manager.persist(new Notice(1, "Dredging"));
            manager.persist(new Club(1, "Saltmere Sailing"));
        });
        return this;
    }

    Vacancy vacancy(UnaryOperator<RuleBook> own) {
        RuleBook rules = mapping.rules(own.apply(RuleBook.bySchema()));
        Ddl.of(database.source(), rules).apply();
        return Vacancy.over(database.source(), rules);
    }

    /** Works in a transaction of the mapper's, by the mapping's rules alone. */
    void transaction(BiConsumer<EntityManager, Vacancy> work) {
        transaction(UnaryOperator.identity(), work);
    }

    /** Works in a transaction of the mapper's. */
    void transaction(UnaryOperator<RuleBook> own, BiConsumer<EntityManager, Vacancy> work) {
        entities.runInTransaction(manager -> work.accept(manager, joined(manager, own)));
    }

    Vacancy joined(EntityManager manager, UnaryOperator<RuleBook> own) {
        RuleBook rules = mapping.rules(own.apply(RuleBook.bySchema()));
        return mapping.attach(
                Vacancy.over(database.source(), rules, HibernateTransactions.of(() -> Optional.of(manager))),
                () -> Optional.of(manager));
    }

    @Override
    public void close() {
        entities.close();
    }

    @Entity(name = "Pier")
    @SecondaryTable(name = "pier_note", pkJoinColumns = @PrimaryKeyJoinColumn(name = "pier_id"))
    static class Pier {
        @Id
        int id;

        String name;

        @Column(table = "pier_note")
        String note;

        @OneToMany(mappedBy = "pier", cascade = CascadeType.ALL, orphanRemoval = true)
        List<Berth> berths = new ArrayList<>();

        @OneToMany(cascade = CascadeType.ALL)
        @OrderColumn(name = "place")
        List<Lamp> lamps = new ArrayList<>();

        Pier() {}

        Pier(int id, String name) {
            this.id = id;
            this.name = name;
        }
    }

    @Entity(name = "Berth")
    @Cacheable
    @Cache(usage = CacheConcurrencyStrategy.READ_WRITE)
    static class Berth {
        @Id
        int id;

        @ManyToOne(optional = false, fetch = FetchType.LAZY)
        @JoinColumn(name = "pier_id")
        Pier pier;

        @OneToMany(mappedBy = "berth")
        List<Craft> craft = new ArrayList<>();

        Berth() {}

        Berth(int id, Pier pier) {
            this.id = id;
            this.pier = pier;
            pier.berths.add(this);
        }
    }

    @Entity(name = "Craft")
    @Inheritance(strategy = InheritanceType.JOINED)
    static class Craft {
        @Id
        long id;

        @Version
        int version;

        String name;

        @ManyToOne(fetch = FetchType.LAZY)
        @JoinColumn(name = "berth_id")
        Berth berth;

        @ManyToOne
        @JoinColumn(name = "skipper_id", foreignKey = @ForeignKey(ConstraintMode.NO_CONSTRAINT))
        Skipper skipper;

        @ElementCollection
        @CollectionTable(name = "craft_equipment", joinColumns = @JoinColumn(name = "craft_id"))
        @Column(name = "item")
        Set<String> equipment = new HashSet<>();

        @ManyToMany
        @JoinTable(
                name = "craft_tag",
                joinColumns = @JoinColumn(name = "craft_id"),
                inverseJoinColumns = @JoinColumn(name = "tag_id"))
        Set<Tag> tags = new HashSet<>();

        @OneToOne(mappedBy = "craft", cascade = CascadeType.REMOVE)
        Policy policy;

        @ManyToOne(cascade = {CascadeType.PERSIST, CascadeType.REMOVE})
        @JoinColumn(name = "design_id")
        Design design;

        @OneToMany(mappedBy = "craft", cascade = CascadeType.REMOVE)
        List<Survey> surveys = new ArrayList<>();

        Craft() {}

        Craft(long id, String name, Berth berth, Skipper skipper) {
            this.id = id;
            this.name = name;
            this.berth = berth;
            this.skipper = skipper;
        }
    }

    @Entity(name = "Sailboat")
    static class Sailboat extends Craft {
        double mastHeight = 12;

        Sailboat() {}

        Sailboat(long id, String name, Berth berth, Skipper skipper) {
            super(id, name, berth, skipper);
        }
    }

    @Entity(name = "Launch")
    static class Launch extends Craft {
        int horsepower = 90;

        Launch() {}

        Launch(long id, String name, Berth berth, Skipper skipper) {
            super(id, name, berth, skipper);
        }
    }

    @Entity(name = "Design")
    static class Design {
        @Id
        int id;

        String drawnBy;

        Design() {}

        Design(int id, String drawnBy) {
            this.id = id;
            this.drawnBy = drawnBy;
        }
    }

    @Entity(name = "Lamp")
    static class Lamp {
        @Id
        UUID id = UUID.randomUUID();

        Lamp() {}
    }

    @Entity(name = "Policy")
    static class Policy {
        @Id
        long id;

        @OneToOne
        @MapsId
        @JoinColumn(name = "craft_id")
        Craft craft;

        Policy() {}

        Policy(Craft craft) {
            this.craft = craft;
        }
    }

    @Entity(name = "Tag")
    static class Tag {
        @Id
        int id;

        String name;

        @ManyToMany(mappedBy = "tags")
        Set<Craft> craft = new HashSet<>();

        Tag() {}

        Tag(int id, String name) {
            this.id = id;
            this.name = name;
        }
    }

    @Entity(name = "Skipper")
    static class Skipper {
        @Id
        int id;

        String name;

        @OneToMany(cascade = CascadeType.PERSIST)
        @JoinColumn(name = "skipper_id")
        List<Bill> bills = new ArrayList<>();

        Skipper() {}

        Skipper(int id, String name) {
            this.id = id;
            this.name = name;
        }
    }

    @Entity(name = "Bill")
    static class Bill {
        @Id
        int id;

        @Version
        long version;

        Bill() {}

        Bill(int id) {
            this.id = id;
        }
    }

    @Embeddable
    record SurveyId(long craftId, LocalDate surveyedOn) {}

    @Entity(name = "Survey")
    static class Survey {
        @EmbeddedId
        SurveyId id;

        @ManyToOne
        @MapsId("craftId")
        Craft craft;

        Survey() {}

        Survey(Craft craft, LocalDate day) {
            this.id = new SurveyId(craft.id, day);
            this.craft = craft;
        }
    }

    @Entity(name = "Notice")
    @SoftDelete(strategy = SoftDeleteType.TIMESTAMP, columnName = "taken_down")
    static class Notice {
        @Id
        int id;

        String title;

        Notice() {}

        Notice(int id, String title) {
            this.id = id;
            this.title = title;
        }
    }

    @Entity(name = "Club")
    @SoftDelete(strategy = SoftDeleteType.ACTIVE, converter = YesNoConverter.class, columnName = "in_being")
    static class Club {
        @Id
        int id;

        String name;

        Club() {}

        Club(int id, String name) {
            this.id = id;
            this.name = name;
        }
    }
}
