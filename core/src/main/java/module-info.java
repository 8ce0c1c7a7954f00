/**
 * The whole job of deleting records: catalog, rules, plan, approval, run, audit trail and the way back. It holds no interface code.
 *
 * <p><img src="doc-files/flow.svg" alt="From a selection comes a plan, from the plan a question, from its answer an approval; the gate looks
 * under lock whether it is still exactly that; then come the outcome and the trail, from which it can be restored.">
 *
 * <pre>{@code
 * Outcome outcome = vacancy.delete(Selection.of("hive").key(12), By.program("nightly"));            // nobody is asked
 *
 * Plan plan = vacancy.plan(Selection.of("hive").key(12), By.user("odile").because("colony lost"));  // somebody is asked
 * Outcome agreed = vacancy.run(Question.about(plan).answer("yes").orElseThrow());
 * }</pre>
 *
 * <p>{@link dev.vacancy.Vacancy} is the entry to all else.
 */
module dev.vacancy.core {
    requires transitive java.sql;
    requires transitive org.jspecify;
    requires net.sf.jsqlparser;
    requires org.jgrapht.core;
    requires org.slf4j;
    requires tools.jackson.core;

    exports dev.vacancy;
    exports dev.vacancy.bulk;
    exports dev.vacancy.catalog;
    exports dev.vacancy.followup;
    exports dev.vacancy.history;
    exports dev.vacancy.retirement;
    exports dev.vacancy.rule;
    exports dev.vacancy.trace;
    exports dev.vacancy.wording;
    // What our own modules share, and nobody else sees.
    exports dev.vacancy.internal.catalog to
            dev.vacancy.approvals,
            dev.vacancy.cli,
            dev.vacancy.declared,
            dev.vacancy.documents,
            dev.vacancy.hibernate,
            dev.vacancy.schedule,
            dev.vacancy.types,
            dev.vacancy.web,
            dev.vacancy.yaml;
    exports dev.vacancy.internal.chunking to
            dev.vacancy.documents;
    exports dev.vacancy.internal.condition to
            dev.vacancy.declared,
            dev.vacancy.documents;
    exports dev.vacancy.internal.engine to
            dev.vacancy.approvals,
            dev.vacancy.cli,
            dev.vacancy.documents,
            dev.vacancy.hibernate,
            dev.vacancy.picture,
            dev.vacancy.spring.boot;
    exports dev.vacancy.internal.failure to
            dev.vacancy.documents;
    exports dev.vacancy.internal.follow to
            dev.vacancy.documents;
    exports dev.vacancy.internal.gate to
            dev.vacancy.documents;
    exports dev.vacancy.internal.planning to
            dev.vacancy.approvals,
            dev.vacancy.documents;
    exports dev.vacancy.internal.request to
            dev.vacancy.cli,
            dev.vacancy.declared,
            dev.vacancy.documents,
            dev.vacancy.hibernate,
            dev.vacancy.yaml;
    exports dev.vacancy.internal.restoring to
            dev.vacancy.documents;
    exports dev.vacancy.internal.rules to
            dev.vacancy.cli,
            dev.vacancy.documents,
            dev.vacancy.hibernate,
            dev.vacancy.picture,
            dev.vacancy.spring.boot;
    exports dev.vacancy.internal.running to
            dev.vacancy.approvals,
            dev.vacancy.documents;
    exports dev.vacancy.internal.store to
            dev.vacancy.documents;
    exports dev.vacancy.internal.trail to
            dev.vacancy.approvals,
            dev.vacancy.documents,
            dev.vacancy.hibernate;
}
