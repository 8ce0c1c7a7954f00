package dev.vacancy.spring;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.EntityManager;
import jakarta.persistence.EntityManagerFactory;
import jakarta.persistence.Id;
import java.util.ArrayList;
import java.util.List;
import java.util.function.BiConsumer;
import javax.sql.DataSource;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.springframework.orm.jpa.JpaTransactionManager;
import org.springframework.orm.jpa.LocalContainerEntityManagerFactoryBean;
import org.springframework.orm.jpa.SharedEntityManagerCreator;
import org.springframework.orm.jpa.persistenceunit.PersistenceManagedTypes;
import org.springframework.orm.jpa.vendor.HibernateJpaVendorAdapter;
import org.springframework.transaction.support.TransactionTemplate;

/** A transaction of an object mapper's is joined as one of JDBC's is. The mapper has no dialect for SQLite. */
class JpaTransactionsTest {
    private static final By UNA = By.user("una");

    /** A pier, as the mapper knows it. */
    @Entity(name = "pier")
    static class Pier {
        @Id
        @Column(name = "pier_id")
        private int id;

        @Column(nullable = false)
        private String name;

        protected Pier() {}

        Pier(int id, String name) {
            this.id = id;
            this.name = name;
        }

        String name() {
            return name;
        }
    }

    /** Works in one transaction of the mapper's, which is committed or rolled back. */
    private static void inTransaction(DataSource source, boolean commits, BiConsumer<EntityManager, Vacancy> work) {
        LocalContainerEntityManagerFactoryBean factory = new LocalContainerEntityManagerFactoryBean();
        factory.setDataSource(source);
        factory.setManagedTypes(PersistenceManagedTypes.of(Pier.class.getName()));
        factory.setJpaVendorAdapter(new HibernateJpaVendorAdapter());
        factory.afterPropertiesSet();
        try (EntityManagerFactory mapper = factory.getObject()) {
            JpaTransactionManager manager = new JpaTransactionManager(mapper);
            manager.afterPropertiesSet();
            EntityManager entities = SharedEntityManagerCreator.createSharedEntityManager(mapper);
            Vacancy vacancy = Vacancy.over(source, Marina.RULES, SpringTransactions.of(source));
            new TransactionTemplate(manager).executeWithoutResult(status -> {
                work.accept(entities, vacancy);
                if (!commits) {
                    status.setRollbackOnly();
                }
            });
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatTheMapperHasWrittenIsSeenAndDeleted(Engine engine) {
        Database database = Marina.on(engine);

        inTransaction(database.source(), true, (entities, vacancy) -> {
            entities.persist(new Pier(3, "East"));
            entities.flush();
            assertThat(vacancy.delete(Selection.of("pier").keys(List.of(1, 3)), UNA)
                            .total())
                    .isEqualTo(4);
        });

        assertThat(database.rows("select name from pier")).containsExactly("South");
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatTheMapperRollsBackStays(Engine engine) {
        Database database = Marina.on(engine);
        List<String> heard = new ArrayList<>();

        inTransaction(database.source(), false, (entities, vacancy) -> {
            assertThat(entities.find(Pier.class, 1).name()).isEqualTo("North");
            vacancy.withListener(Marina.into(heard)).delete(Selection.of("pier").key(1), UNA);
            entities.clear();
            assertThat(entities.find(Pier.class, 1)).isNull();
        });

        assertThat(heard).isEmpty();
        assertThat(database.count("berth")).isEqualTo(3);
    }
}
