/** The whole job of deleting records: catalog, rules, plan, approval, run. It holds no interface code. */
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
    exports dev.vacancy.history;
    exports dev.vacancy.rule;
    exports dev.vacancy.wording;
    // What our own modules share, and nobody else sees.
    exports dev.vacancy.internal.catalog to
            dev.vacancy.approvals,
            dev.vacancy.cli,
            dev.vacancy.schedule,
            dev.vacancy.web,
            dev.vacancy.yaml;
    exports dev.vacancy.internal.dialect to
            dev.vacancy.approvals;
    exports dev.vacancy.internal.engine to
            dev.vacancy.approvals,
            dev.vacancy.cli,
            dev.vacancy.picture;
    exports dev.vacancy.internal.planning to
            dev.vacancy.approvals;
    exports dev.vacancy.internal.request to
            dev.vacancy.cli,
            dev.vacancy.yaml;
    exports dev.vacancy.internal.rules to
            dev.vacancy.cli,
            dev.vacancy.picture;
    exports dev.vacancy.internal.running to
            dev.vacancy.approvals;
    exports dev.vacancy.internal.tables to
            dev.vacancy.approvals;
    exports dev.vacancy.internal.trail to
            dev.vacancy.approvals;
}
