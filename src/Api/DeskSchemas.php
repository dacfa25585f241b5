<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Ypomna\App\Api\Http\ItemLinkController;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Capture\Value\TagKind;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Entity\ItemLink;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Value\DueFor;
use Ypomna\App\Desk\Value\FieldDefinition;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Shared\Codes;
use Ypomna\Core\Desk\FieldType;
use Ypomna\Core\Desk\Todos;

/** The forms of items, links, tags and to-dos. */
final class DeskSchemas
{
    private const TEXT = ['type' => 'string'];
    private const TEXT_OR_NULL = ['type' => ['string', 'null']];
    private const NUMBER = ['type' => 'integer', 'minimum' => 0];
    private const TRUTH = ['type' => 'boolean'];
    private const TRUTH_OR_NULL = ['type' => ['boolean', 'null']];
    private const DAY_OR_NULL = ['type' => ['string', 'null'], 'pattern' => '^\d{4}-\d\d-\d\d$'];
    private const DIGEST = ['type' => 'string', 'pattern' => '^[0-9a-f]{64}$'];

    /** @return array<string, array<string, mixed>> by name */
    public static function all(): array
    {
        $code = ['type' => 'string', 'pattern' => '^'.Codes::PATTERN.'$'];
        $codeOrNull = ['type' => ['string', 'null']] + $code;
        $some = static fn (array $of, int $most): array => ['type' => ['array', 'null'], 'items' => $of, 'maxItems' => $most];
        $tag = ['type' => 'string', 'maxLength' => Tags::LONGEST, 'pattern' => '^[^/]+$'];
        $said = [
            'title' => ['type' => ['string', 'null'], 'maxLength' => Item::LONGEST_TITLE],
            'summary' => ['type' => ['string', 'null'], 'maxLength' => Item::LONGEST_SUMMARY],
            'note' => ['type' => ['string', 'null'], 'maxLength' => Item::LONGEST_NOTE], 'tags' => $some($tag, Item::MOST_TAGS),
            'fields' => self::fields(true), 'due' => self::DAY_OR_NULL,
            'dueFor' => ['enum' => [...array_column(DueFor::cases(), 'value'), null]], 'important' => self::TRUTH_OR_NULL,
            'confidential' => self::TRUTH_OR_NULL, 'sorted' => self::TRUTH_OR_NULL,
            'dossiers' => $some($code, ItemWish::MOST_DOSSIERS), 'parent' => $codeOrNull,
        ];
        $passage = Schemas::object([
            'exact' => ['type' => 'string', 'maxLength' => ItemLinkController::LONGEST_PASSAGE],
            'prefix' => ['type' => ['string', 'null'], 'maxLength' => ItemLinkController::LONGEST_AROUND],
            'suffix' => ['type' => ['string', 'null'], 'maxLength' => ItemLinkController::LONGEST_AROUND],
        ], ['exact']);
        $passageOrNull = ['anyOf' => [$passage, ['type' => 'null']]];

        return [
            'Item' => Schemas::object([
                'code' => $code, 'kind' => ['enum' => array_column(ItemKind::cases(), 'value')], 'title' => self::TEXT,
                'summary' => self::TEXT,
                'subject' => Schemas::object(['capture' => $code, 'url' => self::TEXT, 'sha256' => self::DIGEST], []), 'note' => self::TEXT,
                'tags' => ['type' => 'array', 'items' => self::TEXT], 'fields' => self::fields(false), 'due' => self::DAY_OR_NULL,
                'dueFor' => ['enum' => [...array_column(DueFor::cases(), 'value'), null]], 'important' => self::TRUTH,
                'confidential' => self::TRUTH, 'sorted' => self::TRUTH, 'dossiers' => ['type' => 'array', 'items' => $code],
                'parent' => $codeOrNull, 'createdAt' => Schemas::MOMENT, 'createdBy' => self::TEXT, 'changedAt' => Schemas::MOMENT,
                'etag' => self::TEXT,
            ]),
            'ItemRequest' => Schemas::object([
                'kind' => ['enum' => [...array_column(ItemKind::cases(), 'value'), null]],
                'subject' => ['anyOf' => [
                    Schemas::object(['capture' => $codeOrNull, 'url' => self::TEXT_OR_NULL, 'sha256' => self::TEXT_OR_NULL], []),
                    ['type' => 'null'],
                ]],
            ] + $said, []),
            'ItemChange' => Schemas::object($said, []),
            'ItemMove' => Schemas::object(
                ['parent' => $codeOrNull, 'dossier' => $codeOrNull, 'before' => $codeOrNull, 'after' => $codeOrNull], [],
            ),
            'ItemCopy' => Schemas::object(['title' => ['type' => 'string', 'maxLength' => Item::LONGEST_TITLE]], []),
            'Batch' => Schemas::object([
                'codes' => ['type' => 'array', 'items' => $code, 'maxItems' => Items::MOST_AT_ONCE],
                'set' => Schemas::object([
                    'title' => ['type' => 'string', 'maxLength' => Item::LONGEST_TITLE], 'addTags' => $some($tag, Item::MOST_TAGS),
                    'removeTags' => $some($tag, Item::MOST_TAGS), 'addDossiers' => $some($code, ItemWish::MOST_DOSSIERS),
                    'removeDossiers' => $some($code, ItemWish::MOST_DOSSIERS), 'parent' => $codeOrNull, 'due' => self::DAY_OR_NULL,
                    'important' => self::TRUTH_OR_NULL, 'sorted' => self::TRUTH_OR_NULL, 'fields' => self::fields(true),
                ], []),
            ]),
            'BatchDone' => Schemas::object(['changed' => self::NUMBER, 'undo' => $code]),
            'Undone' => Schemas::object(['changed' => self::NUMBER]),
            'ItemLink' => Schemas::object([
                'code' => $code, 'from' => $code, 'to' => $code, 'passage' => $passageOrNull, 'remark' => self::TEXT_OR_NULL,
                'createdAt' => Schemas::MOMENT, 'createdBy' => self::TEXT, 'etag' => self::TEXT,
            ]),
            'ItemLinkRequest' => Schemas::object([
                'to' => $code, 'passage' => $passageOrNull,
                'remark' => ['type' => ['string', 'null'], 'maxLength' => ItemLink::LONGEST_REMARK],
            ], ['to']),
            'ItemLinks' => Schemas::object([
                'out' => ['type' => 'array', 'items' => Schemas::ref('ItemLink')],
                'in' => ['type' => 'array', 'items' => Schemas::ref('ItemLink')],
            ]),
            'Tag' => Schemas::object([
                'name' => self::TEXT, 'kind' => ['enum' => array_column(TagKind::cases(), 'value')], 'parent' => self::TEXT_OR_NULL,
                'count' => self::NUMBER, 'etag' => self::TEXT,
            ]),
            'TagChange' => Schemas::object([
                'name' => $tag, 'kind' => ['enum' => [...array_column(TagKind::cases(), 'value'), null]],
                'parent' => ['type' => ['string', 'null']] + $tag,
            ], []),
            'TagMerge' => Schemas::object(['into' => $tag]),
            'TagReport' => Schemas::object(['tag' => self::TEXT, 'groups' => ['type' => 'array', 'items' => Schemas::object([
                'dossier' => $codeOrNull, 'name' => self::TEXT_OR_NULL, 'items' => ['type' => 'array', 'items' => Schemas::ref('Item')],
            ])]]),
            'Todo' => Schemas::object(['item' => $code, 'text' => self::TEXT, 'line' => self::NUMBER, 'done' => self::TRUTH]),
            'TodoChange' => Schemas::object([
                'item' => $code, 'line' => self::NUMBER, 'text' => ['type' => 'string', 'maxLength' => Todos::LONGEST],
                'done' => self::TRUTH,
            ]),
            'FieldDefinition' => Schemas::object([
                'name' => ['type' => 'string', 'minLength' => 1, 'maxLength' => FieldDefinition::LONGEST_NAME],
                'type' => ['enum' => array_column(FieldType::cases(), 'value')],
                'choices' => $some(['type' => 'string', 'maxLength' => FieldDefinition::LONGEST_NAME], FieldDefinition::MOST_CHOICES),
            ], ['name', 'type']),
            'ItemFile' => Schemas::object(['items' => ['type' => 'array', 'items' => Schemas::ref('Item')]]),
            'DossierFile' => Schemas::object([
                'dossiers' => ['type' => 'array', 'items' => ['type' => 'object']],
                'items' => ['type' => 'array', 'items' => Schemas::ref('Item')],
            ]),
            'ItemTable' => ['type' => 'string'],
            'Imported' => Schemas::object(['made' => self::NUMBER, 'left' => self::NUMBER, 'replaced' => self::NUMBER]),
            'DossierMove' => Schemas::object(['parent' => $codeOrNull, 'before' => $codeOrNull, 'after' => $codeOrNull], []),
            'DossierCopy' => Schemas::object([
                'name' => ['type' => ['string', 'null'], 'maxLength' => Dossier::LONGEST_NAME], 'parent' => $codeOrNull,
                'items' => self::TRUTH_OR_NULL,
            ], []),
        ];
    }

    /** @return array<string, mixed> values by name: a text, a place or a number with its unit */
    private static function fields(bool $mayBeNull): array
    {
        $degrees = static fn (int $most): array => ['type' => ['number', 'null'], 'minimum' => -$most, 'maximum' => $most];
        $values = [
            self::TEXT,
            Schemas::object(['name' => self::TEXT_OR_NULL, 'latitude' => $degrees(90), 'longitude' => $degrees(180)], []),
            Schemas::object(['value' => ['type' => ['number', 'null']], 'unit' => self::TEXT_OR_NULL], []),
        ];

        return [
            'type' => $mayBeNull ? ['object', 'null'] : 'object',
            'additionalProperties' => ['anyOf' => $mayBeNull ? [...$values, ['type' => 'null']] : $values],
        ];
    }
}
