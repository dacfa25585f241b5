<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Access\Gate;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\SuggestedTag;
use Ypomna\App\Desk\Value\WhySuggested;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\KeyPhrases;
use Ypomna\Core\Warc\WarcError;

/** Which tags could suit an item: those used in its dossier, those whose words stand in its page, and words of the page itself. */
final readonly class TagSuggestions
{
    private const OF_PAGE = 6;
    private const OF_DOSSIER = 5;
    private const OF_WORDS = 5;
    /** Used tags that are looked for in the page. */
    private const LOOKED_FOR = 200;
    private const SHORTEST = 3;

    public function __construct(
        private Connection $database,
        private ItemRepository $items,
        private ItemTags $itemTags,
        private CaptureRepository $captures,
        private CaptureContent $content,
        private HeldWords $words,
        private Tags $tags,
        private Gate $gate,
    ) {
    }

    /**
     * @param Dossier|null $dossier where it is to go, beside those in which it lies
     *
     * @return list<SuggestedTag>
     */
    public function of(Viewer $viewer, Item $item, ?Dossier $dossier = null): array
    {
        $shown = $this->items->shown($viewer, [$item])[0];
        $taken = array_fill_keys(array_map(mb_strtolower(...), $shown->tags), true);
        $lies = array_map(static fn (Dossier $one): int => $one->id(), [...$shown->dossiers, ...(null === $dossier ? [] : [$dossier])]);
        $used = $this->usedIn($viewer, $lies);
        $document = $this->document($viewer, $item);
        $text = ' '.self::folded($document->title.' '.mb_strcut($document->text(), 0, 400_000)).' ';
        $suggested = [];
        $add = static function (WhySuggested $why, iterable $names, int $most) use (&$taken, &$suggested): void {
            $count = 0;
            foreach ($names as $name) {
                if (!\is_string($name) || isset($taken[mb_strtolower($name)])) {
                    continue;
                }
                $taken[mb_strtolower($name)] = true;
                $suggested[] = new SuggestedTag($name, $why);
                if (++$count >= $most) {
                    return;
                }
            }
        };
        $add(WhySuggested::Page, array_filter(
            array_unique([...$used, ...$this->itemTags->called($viewer, '', self::LOOKED_FOR)]),
            static fn (string $name): bool => mb_strlen($name) >= self::SHORTEST && str_contains($text, ' '.self::folded($name).' '),
        ), self::OF_PAGE);
        $add(WhySuggested::Dossier, $used, self::OF_DOSSIER);
        $phrases = [];
        foreach (KeyPhrases::of($document, $this->words->pagesWith(...), self::OF_WORDS * 2) as $phrase) {
            // A stroke parts the steps of an address.
            $phrases[] = strtr($phrase->text, ['/' => ' ']);
        }
        $add(WhySuggested::Words, $phrases, self::OF_WORDS);

        return $suggested;
    }

    /**
     * @param list<int> $dossiers
     *
     * @return list<string> tags of what lies there, the most used first
     */
    private function usedIn(Viewer $viewer, array $dossiers): array
    {
        $ids = [] === $dossiers ? [] : $this->database->fetchFirstColumn(\sprintf(
            'SELECT t.tag_id FROM item_dossier h JOIN item i ON i.id = h.item_id JOIN item_tag t ON t.item_id = h.item_id'
                .' WHERE h.dossier_id IN (?) AND i.deleted_at IS NULL AND %s GROUP BY t.tag_id ORDER BY COUNT(*) DESC, t.tag_id LIMIT 40',
            $this->gate->sight($viewer)->of('i.limited', 'i.code'),
        ), [$dossiers], [ArrayParameterType::INTEGER]);
        $ids = array_map(static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0, $ids);
        $names = $this->tags->byNumbers($ids);

        return array_values(array_filter(
            array_map(static fn (int $id): string => $names[$id]->name ?? '', $ids), static fn (string $name): bool => '' !== $name,
        ));
    }

    private function document(Viewer $viewer, Item $item): Document
    {
        $capture = null === $item->captureCode ? null : $this->captures->byCode($viewer, $item->captureCode);
        try {
            return null === $capture ? Document::fromText($item->title."\n\n".$item->summary."\n\n".$item->note)
                : $this->content->document($capture);
        } catch (WarcError) {
            return Document::fromText($item->title);
        }
    }

    /** Words parted by single blanks. */
    private static function folded(string $text): string
    {
        return trim((string) preg_replace('/[^\p{L}\p{M}\p{N}]+/u', ' ', mb_strtolower($text)));
    }
}
