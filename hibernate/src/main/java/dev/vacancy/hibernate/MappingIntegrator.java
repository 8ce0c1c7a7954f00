package dev.vacancy.hibernate;

import java.util.Collections;
import java.util.Map;
import java.util.Optional;
import java.util.WeakHashMap;
import org.hibernate.SessionFactory;
import org.hibernate.Version;
import org.hibernate.boot.Metadata;
import org.hibernate.boot.spi.BootstrapContext;
import org.hibernate.engine.spi.SessionFactoryImplementor;
import org.hibernate.integrator.spi.Integrator;
import org.hibernate.service.spi.SessionFactoryServiceRegistry;

/**
 * Takes down what a mapping says of deletion, when Hibernate starts: later it doesn't know it any more. Hibernate finds it by itself.
 *
 * @since 0.1
 */
public final class MappingIntegrator implements Integrator {
    private static final Map<SessionFactory, Mapping> KNOWN = Collections.synchronizedMap(new WeakHashMap<>());
    private static final Map<SessionFactory, Throwable> UNREADABLE = Collections.synchronizedMap(new WeakHashMap<>());

    /** Made by Hibernate. */
    public MappingIntegrator() {}

    /** The mapping of a factory; empty where nobody took it down as Hibernate started. */
    static Optional<Mapping> mappingOf(SessionFactory factory) {
        Throwable failure = UNREADABLE.get(factory);
        if (failure != null) {
            String why = failure instanceof LinkageError
                    ? " It takes Hibernate 7, and this is " + Version.getVersionString() + "."
                    : "";
            throw new IllegalStateException("What the mapping says of deletion can't be read." + why, failure);
        }
        return Optional.ofNullable(KNOWN.get(factory));
    }

    /** An application that doesn't ask for its mapping starts, whatever stands in it. */
    @Override
    public void integrate(Metadata metadata, BootstrapContext context, SessionFactoryImplementor factory) {
        try {
            KNOWN.put(factory, new MappingReader(metadata).read());
        } catch (RuntimeException | LinkageError failure) { // the latter by an older Hibernate
            UNREADABLE.put(factory, failure);
        }
    }

    @Override
    public void disintegrate(SessionFactoryImplementor factory, SessionFactoryServiceRegistry services) {
        KNOWN.remove(factory);
        UNREADABLE.remove(factory);
    }
}
