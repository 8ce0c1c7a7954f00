package dev.vacancy.examples.cdi;

import dev.vacancy.Vacancy;
import dev.vacancy.rule.RuleBook;
import io.agroal.api.AgroalDataSource;
import io.agroal.api.configuration.supplier.AgroalDataSourceConfigurationSupplier;
import io.agroal.api.security.NamePrincipal;
import io.agroal.narayana.NarayanaTransactionIntegration;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.inject.Disposes;
import jakarta.enterprise.inject.Produces;
import jakarta.inject.Singleton;
import jakarta.transaction.TransactionManager;
import jakarta.transaction.TransactionSynchronizationRegistry;
import java.sql.SQLException;
import javax.sql.DataSource;

/** The data source, whose connections take part in the container's transactions, and Vacancy over it. */
@ApplicationScoped
public class Beans {
    /** The property of the system that says where the database is. */
    public static final String URL = "larkmoor.url";

    /** The property of the system that says who connects. */
    public static final String USER = "larkmoor.user";

    @Produces
    @ApplicationScoped
    DataSource source(TransactionManager manager, TransactionSynchronizationRegistry registry) throws SQLException {
        return AgroalDataSource.from(new AgroalDataSourceConfigurationSupplier()
                .connectionPoolConfiguration(pool -> pool.maxSize(10)
                        .transactionIntegration(new NarayanaTransactionIntegration(manager, registry))
                        .connectionFactoryConfiguration(
                                factory -> factory.jdbcUrl(System.getProperty(URL, "jdbc:h2:mem:larkmoor"))
                                        .principal(new NamePrincipal(System.getProperty(USER, ""))))));
    }

    void close(@Disposes DataSource source) throws Exception {
        if (source instanceof AutoCloseable pool) {
            pool.close();
        }
    }

    /** A singleton, since a container can't put a proxy before a class that is final. */
    @Produces
    @Singleton
    Vacancy vacancy(DataSource source, TransactionSynchronizationRegistry registry) {
        return Vacancy.over(source, RuleBook.bySchema(), new JtaTransactions(source, registry));
    }
}
