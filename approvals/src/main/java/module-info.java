/** Approvals that travel, signed, and are redeemed once. */
module dev.vacancy.approvals {
    requires transitive dev.vacancy.core;
    requires transitive org.jspecify;
    requires com.nimbusds.jose.jwt;
    requires org.slf4j;

    exports dev.vacancy.approvals;
}
