/** Rules from the mapping, and a persistence context in step with what is deleted. */
@SuppressWarnings("requires-automatic") // Hibernate publishes names, not descriptors
module dev.vacancy.hibernate {
    requires transitive dev.vacancy.core;
    requires transitive jakarta.persistence;
    requires transitive org.jspecify;
    requires java.naming;
    requires transitive org.hibernate.orm.core;

    exports dev.vacancy.hibernate;

    provides org.hibernate.integrator.spi.Integrator with
            dev.vacancy.hibernate.MappingIntegrator;
}
