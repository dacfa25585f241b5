<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Passage;

/** Text that was hidden, became visible, or came or went unseen. */
final readonly class HiddenChange
{
    private const MOST = 500;

    private function __construct(public HiddenKind $kind, public string $text)
    {
    }

    /**
     * @return list<self>
     */
    public static function between(Document $old, Document $new): array
    {
        [$seenBefore, $seenNow, $hiddenBefore, $hiddenNow] = array_map(
            self::keys(...), [$old->passages, $new->passages, $old->hidden, $new->hidden],
        );
        $changes = [];
        foreach ($new->hidden as $passage) {
            if (!isset($hiddenBefore[$passage->key])) {
                $changes[] = new self(
                    isset($seenBefore[$passage->key]) && !isset($seenNow[$passage->key]) ? HiddenKind::Hid : HiddenKind::Added,
                    $passage->text,
                );
            }
        }
        foreach ($old->hidden as $passage) {
            if (!isset($hiddenNow[$passage->key])) {
                $changes[] = new self(
                    isset($seenNow[$passage->key]) && !isset($seenBefore[$passage->key]) ? HiddenKind::Shown : HiddenKind::Removed,
                    $passage->text,
                );
            }
        }

        return \array_slice($changes, 0, self::MOST);
    }

    /**
     * @param list<Passage> $passages
     *
     * @return array<array-key, true>
     */
    private static function keys(array $passages): array
    {
        return array_fill_keys(array_map(static fn (Passage $passage): string => $passage->key, $passages), true);
    }
}
