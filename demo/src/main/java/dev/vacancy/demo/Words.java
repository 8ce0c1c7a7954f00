package dev.vacancy.demo;

/** The invented names and notes that the generator draws from. */
final class Words {
    static final String[] KEEPERS = {
        "Odile Marrow", "Tam Fennick", "Hesper Quill", "Bram Ostler", "Juniper Vale", "Corin Thatch",
        "Maud Ellery", "Silas Wrenfield", "Ottoline Pask", "Ned Harrowby", "Idris Lovage", "Perpetua Sloe"
    };

    static final String[] APIARIES = {"Fellside", "Bramble", "Orchard", "Heather", "Quarry", "Millpond"};

    static final String[] VILLAGES = {
        "Upper Larkmoor", "Lower Larkmoor", "Tansy Green", "Wether Cross", "Stonebeck", "Ashwick Mere"
    };

    /** How many hives stand in each apiary; 40 in all. */
    static final int[] HIVES_IN_APIARY = {9, 7, 6, 6, 6, 6};

    static final String[] NUMBERS = {"One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine"};

    static final String[] QUEENS = {
        "Isolde",
        "Tansy",
        "Marjoram",
        "Clover",
        "Bryony",
        "Sorrel",
        "Melissa",
        "Yarrow",
        "Senna",
        "Viola",
        "Damask",
        "Elowen",
        "Lavender",
        "Myrtle",
        "Saffron"
    };

    /** The colours that tell the year in which a queen hatched. */
    static final String[] MARKS = {"white", "yellow", "red", "green", "blue"};

    static final String[] WOODS = {"cedar", "pine", "larch"};

    static final String[] NOTES = {
        "calm, brood on most frames", "a little short of stores", "two queen cells removed",
        "strong, gave a second super", "varroa count low", "wet floor, dried and levelled",
        "eggs seen, queen not", "queen seen and marked", "uneasy, weather turning"
    };

    static final String[] STORES = {"none", "little", "some", "full"};

    static final String[] REMEDIES = {"oxalic acid", "thymol", "formic acid"};

    static final String[] ROLES = {"lead", "helper", "learner"};

    private Words() {}
}
