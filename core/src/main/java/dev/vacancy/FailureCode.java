package dev.vacancy;

import java.util.Locale;

/**
 * What kind of failure it is. Programs switch on it; the words of messages may change, these don't.
 *
 * @since 0.1
 */
public enum FailureCode {
    /** The call of a tool, or its configuration, is wrong. */
    USAGE,
    /** The database is none that Vacancy speaks to. */
    UNKNOWN_DATABASE,
    /** This kind of database isn't offered that. */
    NOT_OFFERED,
    /** The database has no table that the connection's user can see. */
    EMPTY_CATALOG,
    /** No table has this name. */
    UNKNOWN_TABLE,
    /** Several tables or links go by this name. */
    AMBIGUOUS_NAME,
    /** No column of the table has this name. */
    UNKNOWN_COLUMN,
    /** No link stands there. */
    UNKNOWN_LINK,
    /** The table has no key, so that its records can't be named. */
    NO_KEY,
    /** The key has other columns than were given. */
    KEY_SHAPE,
    /** The record has no value in a column of its key. */
    KEY_WITHOUT_VALUE,
    /** The key stands for several records. */
    AMBIGUOUS_KEY,
    /** No value was given where one is needed. */
    MISSING_VALUE,
    /** The value is none of the column's type. */
    VALUE_TYPE,
    /** The text of a criteria isn't understood. */
    CRITERIA_SYNTAX,
    /** No criteria was given, or an empty one. */
    CRITERIA_MISSING,
    /** Every record meets the criteria. */
    CRITERIA_OF_ALL,
    /** Whoever asks may not do that. */
    FORBIDDEN,
    /** Nobody asks for the deletion. */
    NO_ACTOR,
    /** Nothing says which records to delete; that never means all. */
    NOTHING_SELECTED,
    /** The selection matches another number of records than was expected. */
    UNEXPECTED_COUNT,
    /** Who should take over children can't. */
    UNFIT_PARENT,
    /** Children on this link aren't handed over by rule. */
    NOT_REASSIGNED,
    /** Records point at each other in a circle that nothing opens. */
    CIRCLE,
    /** The default of a column leads back to a record that goes. */
    USELESS_DEFAULT,
    /** The rules don't fit the schema. */
    RULES,
    /** Children forbid the deletion. */
    BLOCKED,
    /** Somebody who has to agree hasn't: the answer was another one, or a colleague is the one who asks. */
    NOT_AGREED,
    /** By the rules a colleague has to agree as well, and nobody has. */
    NO_COLLEAGUE,
    /** An approval isn't signed by us, or was changed on its way. */
    APPROVAL_FORGED,
    /** An approval is too old. */
    APPROVAL_EXPIRED,
    /** An approval is of somebody else, or of another deletion. */
    APPROVAL_OF_ANOTHER,
    /** The table that holds which approvals were redeemed is missing. */
    NO_APPROVAL_TABLE,
    /** The records changed since the plan was approved. */
    STALE_PLAN,
    /** The database did something else than the plan says. */
    NOT_AS_PLANNED,
    /** A record is too large to be written down whole in the audit trail. */
    IMAGE_TOO_LARGE,
    /** A record has a value that couldn't be made again from the audit trail. */
    IMAGE_NOT_WHOLE,
    /** Somebody else holds a record. */
    LOCKED,
    /** Two transactions are in each other's way; the same may work when it is tried again. */
    TRY_AGAIN,
    /** The connection may be inside a transaction of somebody else's. */
    FOREIGN_TRANSACTION,
    /** The connection means another schema than the one that the catalog was read from. */
    OTHER_SCHEMA,
    /** The connection commits each statement by itself. */
    NO_TRANSACTION,
    /** The transaction may overlook what others have committed. */
    ISOLATION,
    /** The database's user lacks a right. */
    MISSING_RIGHT,
    /** There is no such bulk run. */
    UNKNOWN_RUN,
    /** A bulk run isn't in a state in which that can be done. */
    RUN_STATE,
    /** A bulk run has another exemption than the worker, or none. */
    OTHER_EXEMPTION,
    /** The tables that hold the state of bulk runs are missing. */
    NO_STATE_TABLES,
    /** The connection is for reading only. */
    READ_ONLY,
    /** Something between here and the database, or the database itself, can't do what is needed: a pooler, a node without a quorum. */
    UNFIT_CONNECTION,
    /** The database consists of several servers that nothing holds together as the deletion would need it, and no rule says that it may go on. */
    SEVERAL_SERVERS,
    /** A table is stored in a way in which changes can't be taken back. */
    NOT_TRANSACTIONAL,
    /** The database refused to commit. */
    COMMIT_REFUSED,
    /** Nobody knows whether the database has committed: the connection was lost with the answer. */
    OUTCOME_UNKNOWN,
    /** The database has ended the whole of the application's transaction, and not only what was done here. */
    TRANSACTION_ENDED,
    /** A table can't be emptied at once, as records of other tables can depend on its own. */
    HAS_CHILDREN,
    /** A run can't be undone, as something else stands where its records stood. */
    CONFLICT,
    /** There is no audit trail, so nothing tells what happened. */
    NO_TRAIL,
    /** The database can't be reached, or refused a statement. */
    DATABASE;

    /**
     * Returns the code as it stands in JSON and in addresses.
     *
     * @return such as {@code unknown-table}
     */
    public String text() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    @Override
    public String toString() {
        return text();
    }
}
