<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

/** What a token reaches; never further than its person. */
enum Scope: string
{
    case Read = 'read';
    /** Items, dossiers, marks, notes, sheaves. */
    case Write = 'write';
    /** Captures, arrivals, and their jobs. */
    case Capture = 'capture';
    /** Tables, sheaves as files, parcels, bags. */
    case Export = 'export';
    case Admin = 'admin';

    /** What a token reaches of which nothing is said. */
    public const USUAL = [self::Read, self::Write, self::Capture];
}
