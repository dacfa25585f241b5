<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\ItemTags;
use Ypomna\App\Search\Event\NamesAsked;
use Ypomna\App\Search\Value\Kind;
use Ypomna\App\Search\Value\SavedQuestion;
use Ypomna\App\Shared\Viewer;

/** What somebody may be about to type: what they asked before, dossiers, tags, people, addresses and titles, as far as they see them. */
final readonly class Completions
{
    private const OF_A_KIND = 3;
    private const MOST = 10;
    private const LONGEST = 200;

    public function __construct(
        private Questions $questions,
        private DossierRepository $dossiers,
        private ItemTags $tags,
        private Searcher $searcher,
        private EventDispatcherInterface $events,
        private UrlGeneratorInterface $urls,
    ) {
    }

    /** @return list<array{name: string, kind: string, href: string}> */
    public function of(Viewer $viewer, string $typed): array
    {
        $typed = mb_substr(trim($typed), 0, self::LONGEST);
        $questions = array_map(fn (SavedQuestion $one): array => [
            'name' => $one->asked, 'kind' => 'question', 'href' => $this->urls->generate('search', $one->query),
        ], $this->questions->beginning($viewer, $typed));
        if ('' === $typed) {
            return $questions;
        }
        $offers = \array_slice($questions, 0, self::OF_A_KIND);
        foreach ($this->dossiers->called($viewer, $typed, self::OF_A_KIND) as $dossier) {
            $offers[] = ['name' => $dossier->name, 'kind' => 'dossier',
                'href' => $this->urls->generate('dossier', ['code' => $dossier->code])];
        }
        $named = $this->searcher->named($viewer, $typed, self::MOST - self::OF_A_KIND);
        $titles = array_count_values(array_column($named, 'name'));
        foreach ($named as $one) {
            // Pages of one title are told apart by their addresses.
            $more = 1 < $titles[$one['name']] && '' !== $one['name'] && '' !== $one['url'] ? ' – '.$one['url'] : '';
            $offers[] = [
                'name' => '' === $one['name'] ? $one['url'] : $one['name'].$more, 'kind' => $one['kind'],
                'href' => $this->urls->generate(Kind::Page->word() === $one['kind'] ? 'address' : 'item', ['code' => $one['code']]),
            ];
        }
        foreach ($this->tags->called($viewer, $typed, self::OF_A_KIND) as $tag) {
            $offers[] = ['name' => $tag, 'kind' => 'tag', 'href' => $this->urls->generate('search', ['q' => $tag, 'tag' => $tag])];
        }
        $asked = new NamesAsked($viewer, $typed, self::OF_A_KIND);
        $this->events->dispatch($asked);
        foreach ($asked->names as $name) {
            $offers[] = ['name' => $name, 'kind' => 'person', 'href' => $this->urls->generate('search', ['q' => '"'.$name.'"'])];
        }
        $known = [];
        foreach ($offers as $offer) {
            // The same asked in another order is the same question.
            $known['question' === $offer['kind'] ? $offer['name'] : $offer['href']] ??= $offer;
        }

        return \array_slice(array_values($known), 0, self::MOST);
    }
}
