/** Bulk runs in the background, later, again, on several machines. */
@SuppressWarnings("requires-automatic") // db-scheduler publishes a name, not yet a descriptor
module dev.vacancy.schedule {
    requires transitive dev.vacancy.core;
    requires com.github.kagkarlsson.scheduler;
    requires org.slf4j;
    requires tools.jackson.databind;

    exports dev.vacancy.schedule;
}
