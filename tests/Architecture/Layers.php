<?php

declare(strict_types=1);

namespace Ypomna\Tests\Architecture;

/** The order of the rooms. This is the one place that has it: the rules are made from it, and so is the picture in ARCHITECTURE.md. */
final class Layers
{
    public const APPLICATION = 'Ypomna\App';
    /** Each room knows those before it, and none behind. What stands at the root of `src/` puts the rooms together. */
    public const ROOMS = [
        'Shared' => 'clock, rows, codes, queue, side processes',
        'Network' => 'listeners, resolver, what the guard lets pass, the browser',
        'Store' => 'files and ledger',
        'Access' => 'the gate: who may do and see what',
        'Catalogue' => 'addresses, captures, records: the one reader of the holdings',
        'Replay' => 'archived pages, and the wall around them',
        'Compare' => 'two captures, many captures, rules about noise',
        'Capture' => 'pages, lists of pages, whole sites',
        'Exchange' => 'import, export, integrity, rebuilding',
        'Archives' => 'other archives',
        'Liveness' => 'checks of addresses, verdicts, survival',
        'References' => 'documents and their references',
        'Watch' => 'watches and what they told',
        'Desk' => 'items and dossiers, and who belongs to them',
        'Mark' => 'marks on pages, and where they stand on others',
        'Search' => 'every word that was ever held, and when it stood there',
        'People' => 'accounts, signing in, one’s own page',
        'Api' => 'the door for programs',
        'Ui' => 'layout, first screen',
    ];
    /** What belongs to a room alone: how it is reached from outside. */
    public const DOORS = ['Http', 'Console', 'Twig'];
    /** Which room owns which tables: their names occur in no other. */
    public const TABLES = [
        'Shared' => ['queue_message'],
        'Store' => ['ledger_line'],
        'Access' => ['access_grant'],
        'Catalogue' => ['address', 'capture', 'record', 'warc_file', 'joined_address', 'history_summary'],
        'Replay' => ['page_host', 'reading_right'],
        'Compare' => ['fingerprint', 'fingerprint_band', 'fingerprint_reach', 'lifeline', 'last_viewed', 'noise_rule'],
        'Capture' => [
            'capture_job', 'capture_list', 'crawl', 'crawl_page', 'crawl_segment', 'crawl_kind', 'crawl_slot', 'crawl_part', 'crawl_host',
            'capture_description', 'capture_description_tag', 'tag', 'choice',
        ],
        'Exchange' => ['arrival', 'parcel', 'verification'],
        'Archives' => ['other_archive'],
        'Liveness' => ['live_address', 'live_check'],
        'References' => ['reference_list', 'reference'],
        'Watch' => ['event_reader', 'watch', 'watched_page', 'watch_event', 'watch_setting'],
        'Desk' => [
            'always_tag', 'attachment', 'desk_act', 'dossier', 'dossier_person', 'dossier_view', 'favourite', 'finding_aid', 'item',
            'item_dossier',
            'item_link',
            'item_tag',
            'item_todo',
            'note_link', 'note_version', 'opened', 'page_word', 'page_word_reach', 'reminder', 'undo_step',
        ],
        'Search' => ['search_text', 'search_stand', 'search_word', 'search_question', 'search_reading', 'search_shown', 'search_index',
            'search_tally', 'search_site', 'search_single'],
        'Api' => ['first_answer'],
        'People' => ['person', 'person_recovery', 'person_session', 'person_link', 'person_log', 'person_token', 'pairing'],
    ];

    /** @return string|null the room of a class of the application; null if it stands in none */
    public static function roomOf(string $class): ?string
    {
        $room = str_starts_with($class, self::APPLICATION.'\\') ? explode('\\', substr($class, \strlen(self::APPLICATION) + 1))[0] : '';

        return isset(self::ROOMS[$room]) ? $room : null;
    }
}
