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
        'Catalogue' => 'addresses, captures, records: the one reader of the holdings',
        'Replay' => 'archived pages, and the wall around them',
        'Compare' => 'two captures, many captures, rules about noise',
        'Capture' => 'pages, lists of pages, whole sites',
        'Exchange' => 'import, export, integrity, rebuilding',
        'Archives' => 'other archives',
        'Liveness' => 'checks of addresses, verdicts, survival',
        'References' => 'documents and their references',
        'Watch' => 'watches and what they told',
        'Ui' => 'layout, first screen',
    ];
    /** What belongs to a room alone: how it is reached from outside. */
    public const DOORS = ['Http', 'Console', 'Twig'];
}
