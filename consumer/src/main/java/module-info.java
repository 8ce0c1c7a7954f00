/** Somebody's application. */
module example.larkmoor.consumer {
    requires com.h2database;
    requires dev.vacancy.approvals;
    requires dev.vacancy.core;
    requires dev.vacancy.yaml;
}
