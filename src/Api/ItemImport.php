<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Ypomna\App\Desk\ChangedSince;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Viewer;

/**
 * Takes items back that were given out: all or nothing, nothing twice. What is as it was is left; what differs is written over only if
 * that is wanted; what is not there is made under the code that it had.
 */
final readonly class ItemImport
{
    private const MOST_TOLD = 100;
    /** Rows after which objects in memory are let go of. */
    private const STEP = 100;
    private const READ_ONLY = ['code', 'createdAt', 'createdBy', 'changedAt', 'etag'];

    public function __construct(
        private Items $items,
        private ItemRepository $found,
        private ItemWish $wish,
        private ItemFacts $facts,
        private Connection $database,
        private EntityManagerInterface $entities,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param resource $stream that can be read twice
     * @param array<string, string> $dossiers those that are called otherwise here, by the code that they had
     *
     * @return array{made: int, left: int, replaced: int, codes: array<string, string>} and what is called otherwise here, by the code
     *     that it had
     *
     * @throws InvalidFields|ChangedSince
     */
    public function take(Actor $actor, Viewer $viewer, $stream, bool $isTable, bool $replaces, array $dossiers = []): array
    {
        $act = function () use ($actor, $viewer, $stream, $isTable, $replaces, $dossiers): array {
            $counts = ['made' => 0, 'left' => 0, 'replaced' => 0];
            $different = $renamed = [];
            foreach (ItemRows::read($stream, $isTable) as $n => $row) {
                $code = self::code($row, $n);
                if ([] !== $dossiers && \is_array($row->dossiers ?? null)) {
                    $row->dossiers = array_map(
                        static fn (mixed $one): mixed => \is_string($one) ? $dossiers[$one] ?? $one : $one, $row->dossiers,
                    );
                }
                $item = $this->found->byCode($viewer, $code);
                $back = null === $item ? $this->broughtBack($actor, $viewer, $code) : null;
                $item ??= $back;
                $did = null === $item ? 'made' : ($this->isSame($viewer, $item, $row, null !== $back) ? 'left' : 'replaced');
                ++$counts[$did];
                if ('made' === $did) {
                    $made = $this->make($actor, $viewer, $row, $n, $code);
                    $renamed += $made->code === $code ? [] : [$code => $made->code];
                } elseif ('replaced' === $did && null !== $item) {
                    if (!$replaces || $item->kind->value !== ($row->kind ?? $item->kind->value)) {
                        $different[] = $item->code;
                    } else {
                        $this->replace($actor, $viewer, $item, $row, $n);
                    }
                }
                if (\count($different) >= self::MOST_TOLD) {
                    break;
                }
                if (0 === $n % self::STEP) {
                    $this->entities->clear();
                }
            }
            if ([] !== $different) {
                throw new ChangedSince($different);
            }
            $this->parents($actor, $viewer, $stream, $isTable, $renamed);

            return $counts + ['codes' => $renamed];
        };

        return TransactionRetry::transaction($this->database, $act);
    }

    private static function code(\stdClass $row, int $n): string
    {
        $code = $row->code ?? null;
        if (!\is_string($code) || 1 !== preg_match('/^'.Codes::PATTERN.'$/D', $code)) {
            throw InvalidFields::at('/'.$n.'/code', 'The code of an item is wanted.');
        }

        return $code;
    }

    /** What was deleted is brought back first; those above it may come later. */
    private function broughtBack(Actor $actor, Viewer $viewer, string $code): ?Item
    {
        $deleted = $this->found->deleted($viewer, $code, $this->clock->now()->modify(Items::KEPT));
        if (null !== $deleted) {
            $this->items->restore($actor, $deleted);
        }

        return $deleted;
    }

    private function make(Actor $actor, Viewer $viewer, \stdClass $row, int $n, string $code): Item
    {
        $fields = self::fields($row, $n);
        [$kind, $subject] = $this->wish->subject($viewer, $fields);
        $wish = $this->wish->change($fields);
        $fields->done();

        return DeskActs::done(fn (): Item => $this->items->make(
            $actor, $viewer, $kind, $subject, $wish, null, $this->found->isTaken($code) ? Codes::random() : $code,
        ), '/'.$n);
    }

    private function replace(Actor $actor, Viewer $viewer, Item $item, \stdClass $row, int $n): void
    {
        if (!$this->found->mayChange($viewer, $item)) {
            throw new AccessDeniedHttpException();
        }
        $fields = self::fields($row, $n);
        $this->wish->subject($viewer, $fields);
        $wish = $this->wish->change($fields);
        $fields->done();
        // What it has besides is taken away: it is to be as it was given out.
        $gone = array_fill_keys(array_keys(array_diff_key($item->fields, $wish->fields)), null);
        DeskActs::done(fn (): array => $this->items->change($actor, $viewer, [$item], $wish->withFields($gone + $wish->fields)), '/'.$n);
    }

    /**
     * Those that lie under others are put there once all are there.
     *
     * @param resource $stream
     * @param array<string, string> $renamed
     */
    private function parents(Actor $actor, Viewer $viewer, $stream, bool $isTable, array $renamed): void
    {
        foreach (ItemRows::read($stream, $isTable) as $n => $row) {
            $code = self::code($row, $n);
            $parent = \is_string($row->parent ?? null) ? $renamed[$row->parent] ?? $row->parent : null;
            $item = $this->found->byCode($viewer, $renamed[$code] ?? $code);
            $now = null === $item?->parent ? null : $this->found->byCode($viewer, $item->parent->code)?->code;
            if (null !== $item && property_exists($row, 'parent') && $parent !== $now) {
                DeskActs::done(fn (): array => $this->items->change($actor, $viewer, [$item], new ItemChange(parent: $parent)), '/'.$n);
            }
            if (0 === $n % self::STEP) {
                $this->entities->clear();
            }
        }
    }

    private static function fields(\stdClass $row, int $n): Fields
    {
        $values = array_diff_key((array) $row, array_flip([...self::READ_ONLY, 'parent']));

        return Fields::ofText(json_encode((object) $values, \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION), $n.'/');
    }

    /** @param bool $wherever whether it does not count under which item it lies */
    private function isSame(Viewer $viewer, Item $item, \stdClass $row, bool $wherever): bool
    {
        $there = $this->facts->of($viewer, $item);
        foreach (array_diff(array_keys($there), self::READ_ONLY, $wherever ? ['parent'] : []) as $name) {
            if (property_exists($row, $name) && self::plain($row->{$name}) !== self::plain($there[$name])) {
                return false;
            }
        }

        return true;
    }

    private static function plain(mixed $value): string
    {
        $value = json_decode((string) json_encode($value, \JSON_PRESERVE_ZERO_FRACTION), true);
        if (\is_array($value)) {
            array_is_list($value) ? sort($value) : ksort($value);
        }

        return (string) json_encode([] === $value ? null : $value);
    }
}
