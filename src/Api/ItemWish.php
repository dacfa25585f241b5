<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\DueFor;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;

/** What programs say of items. */
final readonly class ItemWish
{
    public const MOST_DOSSIERS = 200;
    public const NO_STROKE = 'A tag has no "/" in its name.';
    private const LONGEST_TAG = 200;
    private const LONGEST_ADDRESS = 8_192;

    public function __construct(private CaptureLists $captures)
    {
    }

    /** What is wrong is told by the fields. */
    public function change(Fields $fields): ItemChange
    {
        $text = static fn (string $name, int $most): ?string => $fields->text($name, $most) ?? ($fields->has($name) ? '' : null);
        $truth = static fn (string $name): ?bool => $fields->bool($name) ?? ($fields->has($name) ? false : null);
        $tags = $this->tags($fields, 'tags');
        $dossiers = $fields->texts('dossiers', self::MOST_DOSSIERS, 20);
        $parent = $fields->text('parent', 20);
        $values = $fields->map('fields');

        return new ItemChange(
            $text('title', Item::LONGEST_TITLE), $text('summary', Item::LONGEST_SUMMARY), $text('note', Item::LONGEST_NOTE),
            $fields->has('due') ? $fields->day('due') : false, $fields->has('dueFor') ? $fields->one('dueFor', DueFor::class) : false,
            $truth('important'), $truth('confidential'), $truth('sorted'),
            tags: $tags ?? ($fields->has('tags') ? [] : null), dossiers: $dossiers ?? ($fields->has('dossiers') ? [] : null),
            parent: $fields->has('parent') ? $parent : false, fields: $values ?? [],
            noFields: $fields->has('fields') && null === $values,
        );
    }

    /** What of many items is to be otherwise. */
    public function batch(Fields $fields): ItemChange
    {
        $parent = $fields->text('parent', 20);

        return new ItemChange(
            $fields->text('title', Item::LONGEST_TITLE, false), due: $fields->has('due') ? $fields->day('due') : false,
            important: $fields->bool('important'), sorted: $fields->bool('sorted'), addTags: $this->tags($fields, 'addTags') ?? [],
            removeTags: $this->tags($fields, 'removeTags') ?? [],
            addDossiers: $fields->texts('addDossiers', self::MOST_DOSSIERS, 20) ?? [],
            removeDossiers: $fields->texts('removeDossiers', self::MOST_DOSSIERS, 20) ?? [],
            parent: $fields->has('parent') ? $parent : false, fields: $fields->map('fields') ?? [],
        );
    }

    /** @return array{ItemKind, ItemSubject} what a new item is, and what it is about */
    public function subject(Viewer $viewer, Fields $fields): array
    {
        $kind = $fields->one('kind', ItemKind::class);
        $inner = $fields->inner('subject');
        $capture = $inner?->text('capture', 20);
        $url = $inner?->text('url', self::LONGEST_ADDRESS);
        $sha256 = $inner?->text('sha256', 64);
        if (null !== $capture && !isset($this->captures->facts($viewer, [$capture])[$capture])) {
            $inner?->wrong('capture', 'There is no such capture.');
        }
        if (null !== $url && null === Url::tryParse($url)) {
            $inner?->wrong('url', 'An address is wanted, as http://lantern.test/.');
        }
        if (null !== $sha256 && 1 !== preg_match('/^[0-9a-f]{64}$/D', $sha256)) {
            $inner?->wrong('sha256', 'A digest of 64 hexadecimal digits is wanted.');
        }
        $fields->take($inner);
        if (ItemKind::Capture === $kind && null === $capture && !$fields->isWrong()) {
            $fields->wrong('subject/capture', 'An item of this kind is about a capture.');
        }
        if (ItemKind::Address === $kind && null === $url && !$fields->isWrong()) {
            $fields->wrong('subject/url', 'An item of this kind is about an address.');
        }
        $kind ??= null !== $capture ? ItemKind::Capture : (null !== $url ? ItemKind::Address : ItemKind::Note);

        return [$kind, new ItemSubject($capture, $url, $sha256)];
    }

    /** @return list<string>|null */
    private function tags(Fields $fields, string $name): ?array
    {
        $tags = $fields->texts($name, Item::MOST_TAGS, self::LONGEST_TAG);
        foreach ($tags ?? [] as $n => $tag) {
            if (str_contains($tag, '/')) {
                $fields->wrong($name.'/'.$n, self::NO_STROKE);
            }
        }

        return null === $tags ? null : array_map(trim(...), $tags);
    }
}
