<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Ypomna\App\Capture\Tags;
use Ypomna\App\Desk\AlwaysTags;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\DossierViews;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\FindingAids;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\SpokenNotes;
use Ypomna\App\Desk\Value\ActKind;
use Ypomna\App\Desk\Value\DossierView;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\Look;
use Ypomna\App\Desk\Value\TieKind;
use Ypomna\App\Desk\Value\WhySuggested;
use Ypomna\App\Shared\Codes;
use Ypomna\Core\Desk\FieldType;

/** The forms of what lies around items and dossiers: files, finding aids, ways to look, who did what, what hangs together. */
final class DeskWorkSchemas
{
    private const TEXT = ['type' => 'string'];
    private const TEXT_OR_NULL = ['type' => ['string', 'null']];
    private const NUMBER = ['type' => 'integer', 'minimum' => 0];
    private const DECIMAL = ['type' => 'number'];
    private const TRUTH = ['type' => 'boolean'];
    private const TRUTH_OR_NULL = ['type' => ['boolean', 'null']];
    private const DAY_OR_NULL = ['type' => ['string', 'null'], 'pattern' => '^\d{4}-\d\d-\d\d$'];
    private const DIGEST_OR_NULL = ['type' => ['string', 'null'], 'pattern' => '^[0-9a-f]{64}$'];

    /** @return array<string, array<string, mixed>> by name */
    public static function all(): array
    {
        return self::files() + self::aids() + self::views() + self::acts() + self::ties();
    }

    /** @return array<string, array<string, mixed>> */
    private static function files(): array
    {
        $mark = ['at' => ['type' => 'number', 'minimum' => 0, 'maximum' => Attachments::LONGEST_SOUND]];
        $said = ['text' => ['type' => ['string', 'null'], 'maxLength' => Attachments::LONGEST_MARK]];

        return [
            'Attachment' => Schemas::object([
                'code' => self::code(), 'item' => self::code(), 'name' => self::TEXT, 'type' => self::TEXT, 'bytes' => self::NUMBER,
                'sha256' => self::DIGEST_OR_NULL, 'marks' => self::some(Schemas::object($mark + ['text' => self::TEXT])),
                'addedAt' => Schemas::MOMENT, 'addedBy' => self::TEXT, 'etag' => self::TEXT,
            ]),
            'AttachmentForm' => Schemas::object(['file' => ['type' => 'string', 'contentMediaType' => 'application/octet-stream']]),
            'AttachmentChange' => Schemas::object(['marks' => [
                'type' => ['array', 'null'], 'items' => Schemas::object($mark + $said, ['at']), 'maxItems' => Attachments::MOST_MARKS,
            ]], []),
            'RecordingRequest' => Schemas::object([
                'type' => ['enum' => [...SpokenNotes::TYPES, null]],
                'title' => ['type' => ['string', 'null'], 'maxLength' => Item::LONGEST_TITLE], 'parent' => self::codeOrNull(),
            ], []),
            'Bytes' => ['contentMediaType' => 'application/octet-stream'],
        ];
    }

    /** @return array<string, array<string, mixed>> */
    private static function aids(): array
    {
        $aid = [
            'code' => self::code(), 'title' => self::TEXT, 'note' => self::TEXT, 'dossier' => self::codeOrNull(),
            'items' => ['type' => ['array', 'null'], 'items' => self::code()], 'fixed' => self::TRUTH, 'sha256' => self::DIGEST_OR_NULL,
            'person' => self::TEXT, 'madeAt' => Schemas::MOMENT,
        ];

        return [
            'FindingAid' => Schemas::object($aid),
            'FindingAidRead' => Schemas::object($aid + ['hidden' => self::NUMBER, 'entries' => self::some(Schemas::object([
                'code' => self::code(), 'kind' => self::TEXT, 'title' => self::TEXT, 'summary' => self::TEXT, 'dossier' => self::TEXT,
                'tags' => self::some(self::TEXT), 'fields' => ['type' => 'object', 'additionalProperties' => self::TEXT],
                'url' => self::TEXT_OR_NULL, 'capture' => self::codeOrNull(), 'capturedAt' => self::TEXT_OR_NULL,
            ]))]),
            'FindingAidRequest' => Schemas::object([
                'title' => ['type' => 'string', 'minLength' => 1, 'maxLength' => FindingAids::LONGEST_TITLE],
                'note' => ['type' => ['string', 'null'], 'maxLength' => FindingAids::LONGEST_NOTE], 'dossier' => self::codeOrNull(),
                'items' => ['type' => ['array', 'null'], 'items' => self::code(), 'maxItems' => Items::MOST_AT_ONCE],
                'fixed' => self::TRUTH_OR_NULL,
            ], ['title']),
            'Xml' => ['contentMediaType' => 'application/xml'],
        ];
    }

    /** @return array<string, array<string, mixed>> */
    private static function views(): array
    {
        $short = ['type' => ['string', 'null'], 'maxLength' => DossierView::LONGEST];
        $view = [
            'look' => ['enum' => [...array_column(Look::cases(), 'value'), null]],
            'order' => ['enum' => [...array_column(ItemOrder::cases(), 'value'), null]],
            'columns' => ['type' => ['array', 'null'], 'items' => self::TEXT, 'maxItems' => DossierView::MOST_COLUMNS],
            'kind' => ['enum' => [...array_column(ItemKind::cases(), 'value'), null]], 'tag' => $short,
            'important' => self::TRUTH_OR_NULL, 'dueBefore' => self::DAY_OR_NULL, 'words' => $short, 'field' => $short,
        ];
        $numbers = Schemas::object([
            'unit' => self::TEXT, 'count' => self::NUMBER, 'sum' => self::DECIMAL, 'least' => self::DECIMAL, 'most' => self::DECIMAL,
            'middle' => self::DECIMAL, 'isConverted' => self::TRUTH,
        ]);
        $place = Schemas::object([
            'item' => self::code(), 'name' => self::TEXT, 'latitude' => self::DECIMAL, 'longitude' => self::DECIMAL,
        ]);

        return [
            'DossierView' => Schemas::object([
                'code' => self::code(), 'name' => self::TEXT, 'person' => self::TEXT, 'forAll' => self::TRUTH,
                'view' => Schemas::object($view),
            ]),
            'DossierViewRequest' => Schemas::object([
                'name' => ['type' => 'string', 'minLength' => 1, 'maxLength' => DossierViews::LONGEST_NAME],
                'forAll' => self::TRUTH_OR_NULL, 'view' => ['anyOf' => [Schemas::object($view, []), ['type' => 'null']]],
            ], ['name']),
            'CollectedFields' => Schemas::object(['complete' => self::TRUTH, 'fields' => self::some(Schemas::object([
                'name' => self::TEXT, 'type' => ['enum' => array_column(FieldType::cases(), 'value')], 'more' => self::NUMBER,
                'values' => self::some(Schemas::object(['value' => self::TEXT, 'items' => self::some(self::code())])),
                'numbers' => self::some($numbers), 'places' => self::some($place),
            ]))]),
            'Chronology' => Schemas::object([
                'field' => self::TEXT_OR_NULL, 'fields' => self::some(self::TEXT), 'entries' => self::some(Schemas::object([
                    'item' => self::code(), 'title' => self::TEXT, 'date' => self::TEXT, 'first' => self::TEXT, 'last' => self::TEXT,
                    'approximate' => self::TRUTH, 'uncertain' => self::TRUTH, 'capture' => self::codeOrNull(),
                    'url' => self::TEXT_OR_NULL, 'capturedAt' => ['type' => ['string', 'null']],
                ])),
            ]),
        ];
    }

    /** @return array<string, array<string, mixed>> */
    private static function acts(): array
    {
        return [
            'Act' => Schemas::object([
                'kind' => ['enum' => array_column(ActKind::cases(), 'value')], 'person' => self::TEXT, 'at' => Schemas::MOMENT,
                'item' => self::codeOrNull(), 'dossier' => self::codeOrNull(), 'from' => self::TEXT, 'to' => self::TEXT,
                'what' => self::TEXT,
            ]),
            'NoteVersion' => Schemas::object([
                'number' => self::NUMBER, 'person' => self::TEXT, 'at' => Schemas::MOMENT, 'length' => self::NUMBER,
                'note' => self::TEXT_OR_NULL,
            ]),
            'NoteSave' => Schemas::object([
                'base' => ['type' => ['string', 'null'], 'maxLength' => Item::LONGEST_NOTE],
                'note' => ['type' => 'string', 'maxLength' => Item::LONGEST_NOTE],
            ], ['note']),
            'NoteSaved' => Schemas::object(['saved' => self::TRUTH, 'note' => self::TEXT, 'theirs' => self::TEXT_OR_NULL]),
        ];
    }

    /** @return array<string, array<string, mixed>> */
    private static function ties(): array
    {
        return [
            'Ties' => Schemas::object([
                'things' => self::some(Schemas::object([
                    'code' => self::code(), 'kind' => self::TEXT, 'isItem' => self::TRUTH, 'title' => self::TEXT,
                    'capturedAt' => self::TEXT_OR_NULL,
                ])),
                'ties' => self::some(Schemas::object([
                    'from' => self::code(), 'to' => self::code(), 'kind' => ['enum' => array_column(TieKind::cases(), 'value')],
                    'words' => self::TEXT,
                ])),
                'complete' => self::TRUTH,
            ]),
            'SuggestedTag' => Schemas::object(['name' => self::TEXT, 'why' => ['enum' => array_column(WhySuggested::cases(), 'value')]]),
            'AlwaysTags' => Schemas::object(['tags' => [
                'type' => 'array', 'maxItems' => AlwaysTags::MOST,
                'items' => ['type' => 'string', 'maxLength' => Tags::LONGEST, 'pattern' => '^[^/]+$'],
            ]]),
        ];
    }

    /** @return array<string, mixed> */
    private static function code(): array
    {
        return ['type' => 'string', 'pattern' => '^'.Codes::PATTERN.'$'];
    }

    /** @return array<string, mixed> */
    private static function codeOrNull(): array
    {
        return ['type' => ['string', 'null']] + self::code();
    }

    /**
     * @param array<string, mixed> $of
     *
     * @return array<string, mixed>
     */
    private static function some(array $of): array
    {
        return ['type' => 'array', 'items' => $of];
    }
}
