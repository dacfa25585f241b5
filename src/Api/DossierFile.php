<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Doctrine\DBAL\Connection;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\ChangedSince;
use Ypomna\App\Desk\Circle;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\FieldDefinition;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\InvalidValue;
use Ypomna\Core\Desk\JsonObjects;

/**
 * A dossier with those in it and all that lies there as one file, and taken back: what is as it was is left, nothing comes twice. The
 * file is a list of items as programs are told them, with the dossiers before it; who belongs to them is no part of it.
 */
final readonly class DossierFile
{
    private const JSON = \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_INVALID_UTF8_SUBSTITUTE
        | \JSON_PRESERVE_ZERO_FRACTION;
    private const MOST_FIELDS = 200;

    public function __construct(
        private Connection $database,
        private DossierRepository $found,
        private Dossiers $dossiers,
        private ItemRepository $items,
        private ItemFacts $facts,
        private ItemImport $import,
        private TranslatorInterface $translator,
    ) {
    }

    /** @return \Generator<int, string> */
    public function pieces(Viewer $viewer, Dossier $dossier): \Generator
    {
        yield '{"dossiers":[';
        $isFirst = true;
        foreach ($this->found->tree($viewer, $dossier) as $one) {
            yield ($isFirst ? '' : ',').json_encode([
                'code' => $one->code, 'name' => $one->name, 'parent' => $one->code === $dossier->code ? null : $one->parent?->code,
                'note' => $one->note, 'open' => $one->open?->value,
                'fields' => array_map(static fn (FieldDefinition $field): array => $field->data(), $one->fields()),
            ], self::JSON);
            $isFirst = false;
        }
        yield '],"items":[';
        $isFirst = true;
        foreach ($this->told($viewer, new ItemQuery(within: $dossier->code, order: ItemOrder::Oldest, most: 200)) as $item) {
            yield ($isFirst ? '' : ',').json_encode($item, self::JSON);
            $isFirst = false;
        }
        yield ']}';
    }

    /** @return \Generator<int, array<string, mixed>> items as they are told */
    public function told(Viewer $viewer, ItemQuery $query): \Generator
    {
        $n = 0;
        foreach ($this->items->pages($viewer, $query) as $found) {
            foreach ($this->facts->ofAll($viewer, $found) as $item) {
                yield $n++ => $item;
            }
        }
    }

    /**
     * @param resource $stream that can be read twice
     *
     * @return array{dossiers: int, made: int, left: int, replaced: int, codes: array<string, string>} dossiers that were made, and items
     *
     * @throws InvalidFields|ChangedSince
     */
    public function take(Actor $actor, Viewer $viewer, $stream, bool $isTable, bool $replaces): array
    {
        return TransactionRetry::transaction($this->database, function () use ($actor, $viewer, $stream, $isTable, $replaces): array {
            $renamed = [];
            $made = 0;
            foreach ($isTable ? [] : $this->rows($stream) as $n => $row) {
                $code = \is_string($row['code'] ?? null) && 1 === preg_match('/^'.Codes::PATTERN.'$/D', $row['code'])
                    ? $row['code'] : throw InvalidFields::at('/dossiers/'.$n.'/code', 'The code of a dossier is wanted.');
                if (null !== $this->found->byCode($viewer, $code)) {
                    // What is there stays as its people have it.
                    continue;
                }
                $new = $this->found->isTaken($code) ? Codes::random() : $code;
                $renamed += $new === $code ? [] : [$code => $new];
                $this->make($actor, $viewer, $row, $n, $new, $renamed);
                ++$made;
            }

            return ['dossiers' => $made] + $this->import->take($actor, $viewer, $stream, $isTable, $replaces, $renamed);
        });
    }

    /**
     * @param resource $stream
     *
     * @return \Generator<int, array<array-key, mixed>>
     */
    private function rows($stream): \Generator
    {
        rewind($stream);
        try {
            foreach (JsonObjects::in(ItemRows::pieces($stream), 'dossiers', false) as $n => $json) {
                $row = json_decode($json, true, 64);
                yield $n => \is_array($row) ? $row : throw new InvalidValue(\sprintf('Number %d is not JSON.', $n));
            }
        } catch (InvalidValue $e) {
            throw InvalidFields::at('/dossiers', $e->getMessage());
        }
    }

    /**
     * @param array<array-key, mixed> $row
     * @param array<string, string> $renamed
     */
    private function make(Actor $actor, Viewer $viewer, array $row, int $n, string $code, array $renamed): void
    {
        $text = static fn (string $name): string => \is_string($row[$name] ?? null) ? mb_scrub($row[$name]) : '';
        $parent = $renamed[$text('parent')] ?? $text('parent');
        $above = '' === $parent ? null : $this->found->byCode($viewer, $parent);
        if ('' !== $parent && (null === $above || !$this->found->may($viewer, $above, Part::Writer))) {
            throw InvalidFields::at('/dossiers/'.$n.'/parent', 'There is no such dossier in which it could lie.');
        }
        $fields = [];
        foreach (\array_slice(\is_array($row['fields'] ?? null) ? $row['fields'] : [], 0, self::MOST_FIELDS) as $field) {
            /** @var array<string, mixed> $data */
            $data = \is_array($field) ? $field : [];
            $one = FieldDefinition::of($data);
            if ('' !== trim($one->name) && mb_strlen($one->name) <= FieldDefinition::LONGEST_NAME) {
                $fields[$one->name] = $one;
            }
        }
        try {
            $this->dossiers->make($actor, new DossierChange(
                mb_substr($text('name'), 0, Dossier::LONGEST_NAME), mb_strcut($text('note'), 0, Dossier::LONGEST_NOTE), $above?->code,
                Opening::tryFrom($text('open')) ?? false, fields: array_values($fields),
            ), $code);
        } catch (CannotChange $e) {
            throw InvalidFields::at('/dossiers/'.$n.'/name', $e->trans($this->translator));
        } catch (Circle) {
            throw InvalidFields::at('/dossiers/'.$n.'/parent', 'It would lie in itself.');
        }
    }
}
