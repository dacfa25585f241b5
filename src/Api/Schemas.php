<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Ypomna\App\Api\Http\ParcelController;
use Ypomna\App\Api\Http\ReferenceController;
use Ypomna\App\Api\Value\CaptureManner;
use Ypomna\App\Api\Value\GivenFormat;
use Ypomna\App\Api\Value\SeenBy;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Value\FavouriteKind;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\Exchange\Value\ParcelState;
use Ypomna\App\Network\Extent;
use Ypomna\App\People\Invitations;
use Ypomna\App\People\LoggedAct;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Role;
use Ypomna\App\Watch\Value\EventKind;
use Ypomna\App\Watch\Value\WatchScope;
use Ypomna\App\Watch\Value\WatchSettings;
use Ypomna\App\Watch\Value\WatchState;
use Ypomna\Core\Citation\DraftFormat;
use Ypomna\Core\Citation\DraftReferences;
use Ypomna\Core\Liveness\LiveVerdict;
use Ypomna\Core\Recurrence\ConditionKind;
use Ypomna\Core\Warc\WitnessStatement;

/** The forms of what programs send and are told (JSON Schema 2020-12, as OpenAPI 3.1 has it). Tests hold each answer against them. */
final class Schemas
{
    public const MOMENT = ['type' => 'string', 'pattern' => '^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{6}Z$'];
    private const TEXT = ['type' => 'string'];
    private const TEXT_OR_NULL = ['type' => ['string', 'null']];
    private const NUMBER = ['type' => 'integer', 'minimum' => 0];
    private const TRUTH = ['type' => 'boolean'];
    private const MOMENT_OR_NULL = ['type' => ['string', 'null']] + self::MOMENT;
    private const DAY_OR_NULL = ['type' => ['string', 'null'], 'pattern' => '^\d{4}-\d\d-\d\d$'];
    private const DIGEST = ['type' => 'string', 'pattern' => '^[0-9a-f]{64}$'];

    /** @return array<string, array<string, mixed>> by name */
    public static function all(): array
    {
        $code = ['type' => 'string', 'pattern' => '^'.Codes::PATTERN.'$'];
        $codeOrNull = ['type' => ['string', 'null']] + $code;
        $said = [
            'title' => ['type' => ['string', 'null'], 'maxLength' => 1_000], 'why' => ['type' => ['string', 'null'], 'maxLength' => 10_000],
            'tags' => ['type' => ['array', 'null'], 'items' => ['type' => 'string', 'maxLength' => 200], 'maxItems' => 50],
            'dossier' => $codeOrNull, 'due' => self::DAY_OR_NULL, 'confidential' => ['type' => ['boolean', 'null']],
        ];
        $arrival = $said + [
            'seenBy' => ['enum' => [...array_column(SeenBy::cases(), 'value'), null]], 'url' => self::TEXT_OR_NULL,
            'capturedAt' => self::TEXT_OR_NULL, 'picture' => self::TEXT_OR_NULL,
            'seen' => ['anyOf' => [self::object(
                array_fill_keys(WitnessStatement::NUMBERS, ['type' => ['integer', 'null'], 'minimum' => 0])
                    + array_fill_keys(WitnessStatement::WORDS, self::TEXT_OR_NULL) + ['fields' => [
                        'type' => ['array', 'null'],
                        'items' => self::object(['name' => self::TEXT, 'value' => self::TEXT], ['name', 'value']),
                        'maxItems' => 200,
                    ]], [],
            ), ['type' => 'null']]],
            'part' => self::TEXT_OR_NULL, 'missing' => ['type' => ['array', 'null'], 'items' => self::TEXT],
            'beside' => ['type' => ['boolean', 'null']], 'with' => $codeOrNull,
        ];
        $people = ['type' => 'object', 'additionalProperties' => ['enum' => array_column(Part::cases(), 'value')]];
        $dossier = [
            'name' => ['type' => 'string', 'minLength' => 1, 'maxLength' => Dossier::LONGEST_NAME], 'parent' => $codeOrNull,
            'note' => ['type' => ['string', 'null'], 'maxLength' => Dossier::LONGEST_NOTE], 'pinned' => ['type' => ['boolean', 'null']],
            'open' => ['enum' => [...array_column(Opening::cases(), 'value'), null]],
            'people' => ['type' => 'object', 'additionalProperties' => ['enum' => [...array_column(Part::cases(), 'value'), null]]],
            'fields' => ['type' => ['array', 'null'], 'items' => self::ref('FieldDefinition'), 'maxItems' => Dossier::MOST_FIELDS],
            'template' => $codeOrNull,
        ];

        $condition = self::object([
            'kind' => ['enum' => array_column(ConditionKind::cases(), 'value')],
            'text' => ['type' => 'string', 'maxLength' => WatchFields::LONGEST_TEXT],
            'column' => ['type' => 'string', 'maxLength' => WatchFields::LONGEST_TEXT],
        ], []);
        $watch = [
            'name' => ['type' => ['string', 'null'], 'maxLength' => WatchFields::LONGEST_NAME],
            'condition' => ['anyOf' => [$condition, ['type' => 'null']]],
            'everyDays' => ['type' => ['number', 'null'], 'minimum' => WatchFields::EVERY[0], 'maximum' => WatchFields::EVERY[1]],
            'keeps' => ['type' => ['boolean', 'null']], 'mails' => ['type' => ['boolean', 'null']],
            'hookUrl' => ['type' => ['string', 'null'], 'maxLength' => WatchFields::LONGEST_ADDRESS],
            'dueAt' => ['type' => ['string', 'null'], 'format' => 'date-time'],
            'dueNote' => ['type' => ['string', 'null'], 'maxLength' => WatchFields::LONGEST_TEXT],
        ];
        $side = self::object([
            'url' => self::TEXT, 'capturedAt' => self::MOMENT, 'permanentAddress' => self::TEXT, 'file' => self::TEXT,
            'fileSha256' => self::TEXT_OR_NULL, 'payloadSha256' => self::TEXT_OR_NULL, 'status' => self::NUMBER,
        ]);

        $settings = [
            'budget' => ['type' => 'number', 'minimum' => 1, 'maximum' => WatchSettings::MOST_A_DAY], 'mailTo' => self::TEXT,
            'digestAt' => self::TEXT, 'quietFrom' => self::TEXT, 'quietTo' => self::TEXT, 'zone' => self::TEXT,
        ];

        return [
            'Me' => self::object([
                'name' => self::TEXT, 'role' => ['enum' => array_column(Role::cases(), 'value')],
                'scopes' => ['type' => 'array', 'items' => ['enum' => array_column(Scope::cases(), 'value')]],
            ]),
            'CaptureRequest' => self::object([
                'url' => self::TEXT, 'how' => ['enum' => [...array_column(CaptureManner::cases(), 'value'), null]],
                'extent' => ['enum' => [...array_column(Extent::cases(), 'value'), null]], 'part' => self::TEXT_OR_NULL,
            ] + $said, ['url']),
            'Begun' => self::object(['job' => $code, 'state' => ['const' => 'waiting']]),
            'Job' => self::object([
                'job' => $code, 'state' => ['enum' => ['waiting', 'running', 'kept', 'failed']], 'stage' => self::TEXT,
                'url' => self::TEXT_OR_NULL, 'capture' => $codeOrNull, 'item' => $codeOrNull,
                'verdict' => ['enum' => ['whole', 'gaps', 'failed', null]], 'reason' => self::TEXT_OR_NULL, 'due' => self::DAY_OR_NULL,
            ]),
            'Capture' => self::object([
                'code' => $code, 'url' => self::TEXT, 'finalUrl' => self::TEXT, 'capturedAt' => self::MOMENT, 'status' => self::NUMBER,
                'title' => self::TEXT_OR_NULL, 'verdict' => ['enum' => ['whole', 'gaps', 'failed', null]], 'confidential' => self::TRUTH,
                'origin' => ['enum' => ['own', 'imported', 'witness']], 'sha256' => self::DIGEST, 'bytes' => self::NUMBER,
                'gaps' => self::NUMBER, 'links' => self::object([
                    'read' => self::TEXT, 'warc' => self::TEXT, 'mhtml' => self::TEXT, 'raw' => self::TEXT, 'text' => self::TEXT_OR_NULL,
                    'picture' => self::TEXT_OR_NULL,
                ]), 'etag' => self::TEXT,
            ]),
            'CaptureChange' => self::object(['confidential' => ['type' => ['boolean', 'null']]], []),
            'Address' => self::object([
                'url' => self::TEXT, 'code' => $codeOrNull, 'held' => self::NUMBER, 'first' => self::MOMENT_OR_NULL,
                'last' => self::MOMENT_OR_NULL, 'lastAlive' => self::MOMENT_OR_NULL, 'lastStatus' => ['type' => ['integer', 'null']],
                'differsFromNow' => ['type' => ['boolean', 'null']],
            ]),
            'Held' => self::object([
                'rest' => ['type' => 'string', 'pattern' => '^[0-9a-f]{59}$'], 'held' => self::NUMBER, 'last' => self::MOMENT,
                'lastStatus' => self::NUMBER,
            ]),
            'ArrivalForm' => self::object([
                'file' => ['type' => 'string', 'contentMediaType' => 'application/octet-stream'],
                'fields' => ['type' => 'string', 'contentMediaType' => 'application/json', 'contentSchema' => self::ref('ArrivalFields')],
            ], ['file']),
            'ArrivalFields' => self::object($arrival, []),
            'UploadRequest' => self::object([
                'name' => ['type' => 'string', 'maxLength' => 255], 'bytes' => self::NUMBER,
                'sha256' => ['type' => 'string', 'pattern' => '^[0-9A-Fa-f]{64}$'], 'fields' => self::ref('ArrivalFields'),
            ], ['name', 'bytes', 'sha256']),
            'Upload' => self::object(['upload' => $code, 'offset' => self::NUMBER, 'bytes' => self::NUMBER], ['upload', 'offset']),
            'Dossier' => self::object([
                'code' => $code, 'name' => self::TEXT, 'parent' => $codeOrNull, 'note' => self::TEXT, 'template' => $codeOrNull,
                'fields' => ['type' => 'array', 'items' => self::ref('FieldDefinition')], 'pinned' => self::TRUTH,
                'open' => ['enum' => array_column(Opening::cases(), 'value')],
                'people' => $people, 'etag' => self::TEXT,
            ]),
            'DossierRequest' => self::object($dossier, ['name']),
            'DossierChange' => self::object($dossier, []),
            'Laying' => self::object(['capture' => $code]),
            'Comparison' => self::object([
                'old' => $side, 'new' => $side, 'rules' => ['type' => ['object', 'array']], 'comparison' => ['type' => 'object'],
            ]),
            'WatchRequest' => self::object([
                'scope' => ['enum' => [...array_column(WatchScope::cases(), 'value'), null]], 'target' => self::TEXT,
            ] + $watch, ['target']),
            'WatchChange' => self::object(['state' => ['enum' => [...array_column(WatchState::cases(), 'value'), null]]] + $watch, []),
            'Watch' => self::object([
                'code' => $code, 'scope' => ['enum' => array_column(WatchScope::cases(), 'value')], 'target' => self::TEXT,
                'name' => self::TEXT, 'state' => ['enum' => array_column(WatchState::cases(), 'value')],
                'everyDays' => ['type' => ['number', 'null']], 'keeps' => self::TRUTH, 'mails' => self::TRUTH, 'condition' => $condition,
                'hookUrl' => self::TEXT_OR_NULL, 'dueAt' => self::MOMENT_OR_NULL, 'dueNote' => self::TEXT, 'madeAt' => self::MOMENT,
                'madeBy' => self::TEXT, 'pages' => self::NUMBER, 'gone' => self::NUMBER, 'next' => self::MOMENT_OR_NULL,
                'etag' => self::TEXT,
            ]),
            'Event' => self::object([
                'id' => self::NUMBER, 'watch' => $code, 'at' => self::MOMENT,
                'kind' => ['enum' => array_column(EventKind::cases(), 'value')], 'url' => self::TEXT_OR_NULL, 'before' => self::TEXT,
                'after' => self::TEXT, 'more' => self::NUMBER, 'captureBefore' => $codeOrNull, 'captureAfter' => $codeOrNull,
            ]),
            'ReferenceRequest' => self::object([
                'text' => ['type' => 'string', 'maxLength' => ReferenceController::LONGEST],
                'name' => ['type' => ['string', 'null'], 'maxLength' => 190],
            ], ['text']),
            'ReferenceList' => self::object([
                'code' => $code, 'name' => self::TEXT, 'format' => ['enum' => array_column(DraftFormat::cases(), 'value')],
                'bytes' => self::NUMBER, 'sha256' => self::DIGEST, 'madeAt' => self::MOMENT, 'madeBy' => self::TEXT,
                'askedAt' => self::MOMENT_OR_NULL, 'counts' => ['type' => 'object', 'additionalProperties' => self::NUMBER],
            ]),
            'Reference' => self::object([
                'position' => self::NUMBER, 'url' => self::TEXT, 'label' => self::TEXT, 'accessed' => self::DAY_OR_NULL,
                'state' => ['enum' => ['unknown', 'not-seen', ...array_column(LiveVerdict::cases(), 'value')]],
                'checkedAt' => self::MOMENT_OR_NULL, 'capture' => $codeOrNull, 'capturedAt' => self::MOMENT_OR_NULL,
                'elsewhere' => self::TEXT_OR_NULL, 'repairedTo' => self::TEXT_OR_NULL,
            ]),
            'Repair' => self::object(
                ['positions' => ['type' => 'array', 'items' => self::NUMBER, 'maxItems' => DraftReferences::MOST]], ['positions'],
            ),
            'Repaired' => self::object(['repaired' => self::NUMBER, 'document' => self::TEXT, 'alterations' => self::TEXT]),
            'Person' => self::object([
                'code' => $code, 'name' => self::TEXT, 'role' => ['enum' => array_column(Role::cases(), 'value')],
                'mail' => self::TEXT_OR_NULL, 'madeAt' => self::MOMENT, 'closed' => self::TRUTH, 'secondStep' => self::TRUTH,
                'etag' => self::TEXT,
            ]),
            'PersonChange' => self::object([
                'role' => ['enum' => [...array_column(Role::cases(), 'value'), null]], 'closed' => ['type' => ['boolean', 'null']],
            ], []),
            'InvitationRequest' => self::object([
                'role' => ['enum' => array_column(Role::cases(), 'value')],
                'mail' => ['type' => ['string', 'null'], 'maxLength' => Invitations::LONGEST_MAIL],
            ], ['role']),
            'Invitation' => self::object(['link' => self::TEXT, 'mailedTo' => self::TEXT_OR_NULL]),
            'LogLine' => self::object([
                'id' => self::NUMBER, 'at' => self::MOMENT, 'act' => ['enum' => array_column(LoggedAct::cases(), 'value')],
                'who' => self::TEXT, 'whom' => self::TEXT, 'detail' => self::TEXT, 'network' => self::TEXT,
            ]),
            'Favourite' => self::object([
                'kind' => ['enum' => array_column(FavouriteKind::cases(), 'value')], 'code' => $code, 'pinned' => self::TRUTH,
                'title' => self::TEXT_OR_NULL, 'url' => self::TEXT_OR_NULL, 'at' => self::MOMENT_OR_NULL,
            ]),
            'FavouriteChange' => self::object(['pinned' => ['type' => ['boolean', 'null']]], []),
            'WatchSettings' => self::object($settings + ['etag' => self::TEXT]),
            'WatchSettingsChange' => self::object(
                array_map(static fn (array $one): array => ['type' => [$one['type'], 'null']] + $one, $settings), [],
            ),
            'Verification' => self::object([
                'code' => $code, 'by' => self::TEXT, 'startedAt' => self::MOMENT, 'finishedAt' => self::MOMENT_OR_NULL,
                'files' => self::NUMBER, 'filesDone' => self::NUMBER, 'records' => self::NUMBER, 'ledgerLines' => self::NUMBER,
                'findings' => ['type' => 'array', 'items' => self::object(['where' => self::TEXT, 'what' => self::TEXT])],
            ]),
            'ParcelRequest' => self::object([
                'captures' => ['type' => ['array', 'null'], 'items' => $code, 'maxItems' => ParcelOptions::MOST_CAPTURES],
                'addresses' => ['type' => ['array', 'null'], 'items' => $code, 'maxItems' => ParcelController::MOST_ADDRESSES],
                'everything' => ['type' => ['boolean', 'null']], 'scripts' => ['type' => ['boolean', 'null']],
                'format' => ['enum' => [...array_column(GivenFormat::cases(), 'value'), null]],
            ], []),
            'Parcel' => self::object([
                'code' => $code, 'title' => self::TEXT, 'state' => ['enum' => array_column(ParcelState::cases(), 'value')],
                'done' => self::NUMBER, 'captures' => self::NUMBER, 'bytes' => self::NUMBER, 'askedAt' => self::MOMENT,
                'finishedAt' => self::MOMENT_OR_NULL, 'leftOut' => ['type' => 'array', 'items' => self::TEXT],
                'reason' => self::TEXT_OR_NULL, 'files' => ['type' => 'array', 'items' => self::object([
                    'name' => self::TEXT, 'bytes' => self::NUMBER, 'sha256' => self::DIGEST, 'href' => self::TEXT,
                ])],
            ]),
            'Problem' => self::object([
                'type' => self::TEXT, 'title' => self::TEXT, 'status' => self::NUMBER, 'detail' => self::TEXT,
                'items' => ['type' => 'array', 'items' => $code],
                'errors' => ['type' => 'array', 'items' => self::object(['pointer' => self::TEXT, 'detail' => self::TEXT])],
            ], ['type', 'title', 'status', 'detail']),
        ] + DeskSchemas::all() + DeskWorkSchemas::all() + FindingSchemas::all() + array_map(self::list(...), [
            'Captures' => 'Capture', 'HeldList' => 'Held', 'Dossiers' => 'Dossier', 'Watches' => 'Watch', 'Events' => 'Event',
            'ReferenceLists' => 'ReferenceList', 'References' => 'Reference', 'People' => 'Person', 'LogLines' => 'LogLine',
            'Favourites' => 'Favourite', 'Items' => 'Item', 'Tags' => 'Tag', 'Todos' => 'Todo', 'Attachments' => 'Attachment',
            'FindingAids' => 'FindingAid', 'DossierViews' => 'DossierView', 'Acts' => 'Act', 'NoteVersions' => 'NoteVersion',
            'SuggestedTags' => 'SuggestedTag',
        ]);
    }

    /** @return array<string, string> */
    public static function ref(string $name): array
    {
        return ['$ref' => '#/components/schemas/'.$name];
    }

    /** @return array<string, mixed> */
    private static function list(string $of): array
    {
        return self::object(['items' => ['type' => 'array', 'items' => self::ref($of)], 'next' => self::TEXT_OR_NULL]);
    }

    /**
     * @param array<string, mixed> $properties
     * @param list<string>|null $required names of those that have to be there; null for all
     *
     * @return array<string, mixed>
     */
    public static function object(array $properties, ?array $required = null): array
    {
        return [
            'type' => 'object', 'properties' => $properties, 'required' => $required ?? array_keys($properties),
            'additionalProperties' => false,
        ];
    }
}
