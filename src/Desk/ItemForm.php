<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Symfony\Component\HttpFoundation\Request;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\DueFor;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ShownField;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\FieldType;

/** What people type of items: one line for one of them or for many, and the whole of one. */
final readonly class ItemForm
{
    public function __construct(private DossierRepository $dossiers, private ItemFields $fields)
    {
    }

    /** @return list<ShownField> those that the dossiers of an item know, then those that it has besides */
    public function fields(Item $item): array
    {
        $known = $this->fields->of($item);
        $shown = [];
        foreach ($known as $name => $field) {
            $shown[] = new ShownField((string) $name, $field->type, $field->choices, $item->fields[$name] ?? null);
        }
        foreach (array_diff_key($item->fields, $known) as $name => $value) {
            $shown[] = new ShownField((string) $name, FieldType::of($value), [], $value);
        }

        return $shown;
    }

    /** A value as it was typed: a number with its unit, a place by name and degrees, a text. */
    public function field(Item $item, string $name, string $typed): mixed
    {
        $type = $this->fields->of($item)[$name]->type ?? FieldType::of($item->fields[$name] ?? $typed);

        return match ($type) {
            FieldType::Number => 1 === preg_match('/^([+-]?\d+(?:\.\d+)?)\s*(.*)$/Du', strtr($typed, ["\u{2212}" => '-']), $m)
                ? ['value' => str_contains($m[1], '.') ? (float) $m[1] : (int) $m[1], 'unit' => $m[2]] : $typed,
            FieldType::Place => 1 === preg_match('/^(.*?)\s*\(?([+-]?\d+(?:\.\d+)?)\s*,\s*([+-]?\d+(?:\.\d+)?)\)?$/Du', $typed, $m)
                ? ('' === $m[1] ? [] : ['name' => $m[1]]) + ['latitude' => (float) $m[2],
                    'longitude' => (float) $m[3]] : ['name' => $typed],
            default => self::composed($typed),
        };
    }

    /**
     * One cell of a register, as it was typed.
     *
     * @throws CannotChange
     */
    public function cell(Item $item, string $column, string $typed): ItemChange
    {
        $typed = trim($typed);
        $field = str_starts_with($column, 'f.') ? substr($column, 2) : null;

        return match (true) {
            'title' === $column => new ItemChange(self::cut($typed, Item::LONGEST_TITLE)),
            'tags' === $column => new ItemChange(tags: self::tags($typed)),
            'due' === $column => new ItemChange(due: '' === $typed ? null : self::day($typed)),
            null !== $field => new ItemChange(fields: [$field => '' === $typed ? null : $this->field($item, $field, $typed)]),
            default => throw new CannotChange('desk.no_such_column'),
        };
    }

    /**
     * The line that says what something is and where it goes. What is left empty stays as it is.
     *
     * @throws CannotChange
     */
    public function answer(Viewer $viewer, Request $request, bool $sorts): ItemChange
    {
        $form = $request->request;
        $title = trim($form->getString('title'));
        $due = $form->getString('due');
        $dossier = $this->dossier($viewer, trim($form->getString('dossier')));

        return new ItemChange(
            '' === $title ? null : self::cut($title, Item::LONGEST_TITLE), due: '' === $due ? false : self::day($due),
            important: '1' === $form->getString('important') ? true : null, sorted: $sorts ? true : null,
            addTags: self::tags($form->getString('tags')), addDossiers: null === $dossier ? [] : [$dossier],
        );
    }

    /**
     * All that a form of one item says.
     *
     * @throws CannotChange
     */
    public function whole(Request $request): ItemChange
    {
        $form = $request->request;
        $due = $form->getString('due');

        return new ItemChange(
            self::cut(trim($form->getString('title')), Item::LONGEST_TITLE), self::cut($form->getString('summary'), Item::LONGEST_SUMMARY),
            null,
            '' === $due ? null : self::day($due), DueFor::tryFrom($form->getString('dueFor')), '1' === $form->getString('important'),
            '1' === $form->getString('confidential'), tags: self::tags($form->getString('tags')),
        );
    }

    /** A note as it was typed: lines end as in files of ours, and no more than fits is taken. */
    public static function note(string $typed): string
    {
        return mb_strcut(strtr(self::composed($typed), ["\r\n" => "\n"]), 0, Item::LONGEST_NOTE);
    }

    /**
     * Names parted by commas.
     *
     * @return list<string>
     *
     * @throws CannotChange
     */
    public static function tags(string $typed): array
    {
        $tags = [];
        foreach (explode(',', $typed) as $tag) {
            $tag = trim(self::composed($tag));
            if (str_contains($tag, '/') || mb_strlen($tag) > Tags::LONGEST) {
                throw new CannotChange('desk.no_such_tag', ['name' => mb_strimwidth($tag, 0, 60, '…')]);
            }
            if ('' !== $tag) {
                $tags[] = $tag;
            }
        }

        return \array_slice($tags, 0, Item::MOST_TAGS);
    }

    /** @throws CannotChange */
    public function dossier(Viewer $viewer, string $typed): ?string
    {
        if ('' === $typed) {
            return null;
        }
        $named = $this->dossiers->writable($viewer, $typed);
        foreach ([] === $named ? $this->dossiers->writable($viewer) : $named as $dossier) {
            if ($dossier->code === $typed || mb_strtolower($dossier->name) === mb_strtolower($typed)) {
                return $dossier->code;
            }
        }
        throw new CannotChange('desk.no_dossier_called', ['name' => mb_strimwidth($typed, 0, 60, '…')]);
    }

    /** @throws CannotChange */
    private static function day(string $typed): \DateTimeImmutable
    {
        $day = \DateTimeImmutable::createFromFormat('!Y-m-d', $typed, new \DateTimeZone('UTC'));
        if (false === $day || $day->format('Y-m-d') !== $typed) {
            throw new CannotChange('desk.no_such_day', ['day' => mb_strimwidth($typed, 0, 30, '…')]);
        }

        return $day;
    }

    private static function cut(string $text, int $most): string
    {
        return mb_substr(self::composed($text), 0, $most);
    }

    private static function composed(string $text): string
    {
        $composed = \Normalizer::normalize(mb_scrub($text));

        return \is_string($composed) ? $composed : $text;
    }
}
