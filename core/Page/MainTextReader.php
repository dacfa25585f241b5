<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Html\Tree;

/** @internal */
final class MainTextReader
{
    /** Share of the running text that an element has to hold to be gone into. */
    private const NEARLY_ALL = 0.72;
    private const AROUND_TAGS = '/(?:^| )(?:nav|aside|footer|form|menu|dialog|button|select)(?:[#.:]| |$)/';
    /** Names of what stands around an article. */
    private const AROUND = '/[#.](?:[\w-]*[-_])?(?:ads?|advert\w*|sponsor\w*|promo\w*|banner|related\w*|recommend\w*|teasers?|share\w*|'
        .'sharing|social\w*|comments?|commentlist|disqus|replies|respond|sidebar|side|breadcrumbs?|crumbs|pagination|pager|paging|menu|'
        .'nav|navi|navbar|navigation|footer|foot|bottom|colophon|site-?info|masthead|topbar|toolbar|newsletter|subscribe\w*|signup|'
        .'sign-up|cookies?|consent|gdpr|popup|modal|overlay|widget|tags|taglist|tag-list|metadata|postmeta|post-meta|meta|'
        .'byline|dateline|author-?(?:box|bio|info)|authors?|published|timestamp|pubdate|credits?|caption|print|tools|rating|'
        .'ranking|most-?read|popular|trending|more-?(?:news|stories|from)|latest|copyright|legal|skip|hidden|sr-only|'
        .'visually-hidden|captcha|login|werbung|anzeige|kommentare|copy|bl(?:ae|ä)ttern|signature|sig|user-?info|'
        .'userbox|post-?author|poster|avatar)(?:[-_][\w-]*)?(?=[.:#\s]|$)|[#.](?:user|username|postuser|'
        .'member)(?=[.:#\s]|$)/i';
    private const COMMENTS = '/[#.](?:[\w-]*[-_])?(?:comments?|commentlist|disqus|replies|respond|kommentare)(?:[-_][\w-]*)?(?=[.:#\s]|'
        .'$)/i';
    /** Of these names what is never the text itself. */
    private const NEVER = '/[#.](?:[\w-]*[-_])?(?:ads?|advert\w*|sponsor\w*|footer|foot|bottom|colophon|site-?info|print|copyright|copy|'
        .'legal|cookies?|consent|gdpr|nav\w*|menu|breadcrumbs?|crumbs|login|signup|sign-up|newsletter|subscribe\w*|skip|hidden|'
        .'captcha)(?:[-_][\w-]*)?(?=[.:#\s]|$)/i';
    private const SHORTEST = 40;
    /** So many stories, links of one name or the like make a list. */
    private const MANY = 3;
    /** So much of the running text at least is the page's own beside stories that are offered. */
    private const REST = 0.3;
    /** Lines of facts between the name of something and its beginning, and the most letters of one. */
    private const LINES_OF_FACTS = 2;
    private const LINE = 90;
    /** Letters of a box that asks for something. */
    private const BOX = 300;
    /** So many names within each other are looked through, and such a share of text beside one makes it what it is called. */
    private const MISNAMED = 4;
    private const BESIDE = 0.12;
    /** Boxes that are looked for at most. */
    private const BOXES = 30;

    /** @var list<TextBlock> */
    private array $blocks = [];
    private readonly ArticleFacts $facts;
    /**
     * @var list<string> ways, below the body, to elements with the name of what stands around an article, in which nearly all of the text
     *     is
     */
    private array $misnamed = [];
    /** @var array<int, string> the first link of a block, by its number */
    private array $linked = [];
    /** Paragraphs that begin other things, where these are what the page is for. */
    private int $offered = 0;

    public function __construct(Tree $tree, private readonly Document $document)
    {
        $this->facts = new ArticleFacts($tree, $document);
        $this->gather();
    }

    public function read(): MainText
    {
        [$container, $running] = $this->container();
        $title = $this->facts->title($container);
        $chosen = $this->within($container, $title);
        $text = implode("\n\n", array_map(static fn (TextBlock $block): string => $block->text, $chosen));
        [$isArticle, $confidence] = $this->judged($chosen, $running);

        return new MainText(
            $title, $this->facts->byline(), $this->facts->published($container), $this->facts->language(), $text, $isArticle, $confidence,
            self::words($text),
        );
    }

    /** Passages of one block together, with what of them are links. */
    private function gather(): void
    {
        $links = $leads = $first = [];
        $times = array_count_values(array_map(static fn (Link $link): string => mb_strtolower($link->text), $this->document->links));
        foreach ($this->document->links as $link) {
            $links[$link->passage] = ($links[$link->passage] ?? 0) + mb_strlen($link->text);
            $first[$link->passage] ??= mb_strlen($link->text) >= 12 ? $link->text : '';
            $leads[$link->passage] = ($leads[$link->passage] ?? false)
                || ('' !== $link->text && $times[mb_strtolower($link->text)] >= self::MANY);
        }
        $current = null;
        foreach ($this->document->passages as $n => $passage) {
            $isRow = null !== $passage->cell && null !== $current && $current->isSameRow($passage);
            if (null === $current || ($current->number !== $passage->block && !$isRow)) {
                $current = new TextBlock($passage->block, $passage->kind, $passage->path, $passage->cell);
                $this->blocks[] = $current;
                if ('' !== ($first[$n] ?? '')) {
                    $this->linked[$current->number] = $first[$n];
                }
            }
            $current->add($passage, $links[$n] ?? 0, $leads[$n] ?? false);
        }
        $this->findMisnamed();
        $this->markOffered();
    }

    /** The block of the main text may be called anything: on a page of talk, what readers write is what the page is for. */
    private function findMisnamed(): void
    {
        for ($depth = 0; $depth < self::MISNAMED; ++$depth) {
            $weights = [];
            $free = 0;
            foreach ($this->blocks as $block) {
                $reads = PassageKind::Heading !== $block->kind && $block->letters() * $block->density() >= self::SHORTEST
                    && $block->linkShare() < 0.45;
                $path = (string) preg_replace('/^html(?: body\S*)?/', '', $block->path);
                if (!$reads || 1 === preg_match(self::AROUND_TAGS, $path)) {
                    continue;
                }
                if (!$this->isAround($block->path)) {
                    $free += $block->weight();
                    continue;
                }
                $way = '';
                foreach (explode(' ', ltrim($path)) as $step) {
                    $way .= ' '.$step;
                    if (1 === preg_match(self::AROUND, ' '.$step) && !\in_array($way, $this->misnamed, true)) {
                        break;
                    }
                }
                $weights[$way] = ($weights[$way] ?? 0) + $block->weight();
            }
            arsort($weights);
            $way = array_key_first($weights);
            if (null === $way || 1 === preg_match(self::NEVER, $way) || $weights[$way] < self::NEARLY_ALL * (array_sum($weights) + $free)
                || $free >= self::BESIDE * $weights[$way]) {
                return;
            }
            // The longest first.
            array_unshift($this->misnamed, $way);
        }
    }

    /**
     * Paragraphs that are beginnings of something else, below a line that is a link, or with a link at their end that many have.
     * Where they are few, or nearly all there is, they are what the page is about.
     */
    private function markOffered(): void
    {
        $offered = [];
        $rest = $there = 0;
        foreach ($this->blocks as $n => $block) {
            if (!$this->runs($block)) {
                continue;
            }
            if ($block->leadsOn || $this->isBelowLink($n) || $this->beginsWithLink($block)) {
                $offered[] = $block;
                $there += $block->weight();
            } else {
                $rest += $block->weight();
            }
        }
        $this->offered = \count($offered);
        if ($this->offered >= self::MANY && $rest >= self::REST * ($rest + $there)) {
            foreach ($offered as $block) {
                $block->isOffered = true;
            }
            $this->offered = 0;
        }
    }

    /** Whether a line that is a link stands above a block, at most a line or two of facts in between: an address, a date. */
    private function isBelowLink(int $n): bool
    {
        for ($above = 1; $above <= self::LINES_OF_FACTS + 1; ++$above) {
            $before = $this->blocks[$n - $above] ?? null;
            if (null === $before) {
                return false;
            }
            if ($before->linkShare() > 0.8) {
                return PassageKind::Heading === $before->kind || ($before->letters() >= 15 && str_contains($before->text, ' '));
            }
            if (PassageKind::Heading === $before->kind || $before->letters() > self::LINE || $this->runs($before)) {
                return false;
            }
        }

        return false;
    }

    /** Whether it begins with the name of something else, as links: paragraphs of a text seldom do. */
    private function beginsWithLink(TextBlock $block): bool
    {
        return $block->links >= 12 && isset($this->linked[$block->number]) && str_starts_with($block->text, $this->linked[$block->number]);
    }

    /** Whether the block reads like a paragraph of running text. */
    private function runs(TextBlock $block): bool
    {
        $long = $block->letters() * $block->density();

        return \in_array($block->kind, [PassageKind::Sentence, PassageKind::Line, PassageKind::Item], true) && $long >= self::SHORTEST
            && $block->linkShare() < 0.45
            && !$block->isOffered && !$this->isAround($block->path)
                && ($block->sentences > 1 || $long >= 90 || 1 === preg_match('/[.!?…:;。！？؟।]["\'”’»)]*$/u', $block->text));
    }

    private function isAround(string $path): bool
    {
        // The names of html and body say what kind of page it is, not what is around.
        $path = (string) preg_replace('/^html(?: body\S*)?/', '', $path);
        // Nor does one that nearly all of the text stands under, whatever it is called.
        foreach ($this->misnamed as $way) {
            if (str_starts_with($path.' ', $way.' ')) {
                $path = substr($path, \strlen($way));
                break;
            }
        }

        return 1 === preg_match(self::AROUND_TAGS, $path) || 1 === preg_match(self::AROUND, $path);
    }

    /**
     * @return array{string, int} the way to the element that holds the article, and how much running text there is in all
     */
    private function container(): array
    {
        $weights = [];
        $all = 0;
        foreach ($this->blocks as $block) {
            if (!$this->runs($block)) {
                continue;
            }
            $weight = $block->weight();
            $all += $weight;
            $path = '';
            foreach (explode(' ', $block->path) as $step) {
                $path .= ('' === $path ? '' : ' ').$step;
                $weights[$path] = ($weights[$path] ?? 0) + $weight;
            }
        }
        $container = '';
        $heavy = array_filter($weights, static fn (int $weight): bool => $weight >= self::NEARLY_ALL * $all);
        foreach ($heavy as $path => $weight) {
            // A paragraph or an item alone is no container.
            if (\strlen((string) $path) > \strlen($container)
                && 1 !== preg_match('/ (?:p|li|span|font|b|i|a|dd|dt|h\d|pre|blockquote)[#.:][^ ]*$/', (string) $path)) {
                $container = (string) $path;
            }
        }

        return [$container, $all];
    }

    /**
     * @return list<TextBlock>
     */
    private function within(string $container, string $title): array
    {
        $chosen = [];
        $prefix = '' === $container ? '' : $container.' ';
        $begun = false;
        $above = null;
        $times = array_count_values(array_map(static fn (TextBlock $block): string => $block->text, $this->blocks));
        $boxes = $this->boxes($container);
        foreach ($this->blocks as $block) {
            if ([] !== array_filter($boxes, static fn (string $way): bool => str_starts_with($block->path, $way))) {
                continue;
            }
            $inside = '' === $container || $block->path === $container || str_starts_with($block->path, $prefix);
            // What stands there again and again, shortly, is a label.
            $isLabel = $times[$block->text] > 2 && $block->letters() < 40 && PassageKind::Cell !== $block->kind;
            if (!$inside || $isLabel || $block->isOffered || PassageKind::Caption === $block->kind) {
                continue;
            }
            $way = substr($block->path, \strlen($prefix) > \strlen($block->path) ? \strlen($block->path) : \strlen($prefix));
            if ($this->isAround(' '.$way) || $this->facts->isFact($block, $title)) {
                continue;
            }
            if (!$begun && $this->runs($block)) {
                $begun = true;
                if (null !== $above && $this->isSection($above, $container)) {
                    $chosen[] = $above;
                }
            }
            $above = PassageKind::Heading === $block->kind ? $block : null;
            if ($this->belongs($block, $begun)) {
                $chosen[] = $block;
            }
        }

        return $this->ended($chosen);
    }

    /**
     * Without headings at the end, and those that have only a line or two below them that are no text: whom to ask, what to read next.
     *
     * @param list<TextBlock> $chosen
     *
     * @return list<TextBlock>
     */
    private function ended(array $chosen): array
    {
        for ($n = \count($chosen) - 1; $n >= 0 && !$this->runs($chosen[$n])
            && \in_array($chosen[$n]->kind, [PassageKind::Heading, PassageKind::Sentence], true); --$n) {
            if (PassageKind::Heading === $chosen[$n]->kind) {
                $chosen = \array_slice($chosen, 0, $n);
            }
        }

        return $chosen;
    }

    /** Whether a heading above the first paragraph is one of several that part the text, rather than more of the headline. */
    private function isSection(TextBlock $heading, string $container): bool
    {
        $level = static fn (TextBlock $block): string => PassageKind::Heading === $block->kind
            && 1 === preg_match('/ (h\d)[#.:][^ ]*$/', $block->path, $m)
            ? $m[1]
            : '';
        $like = array_filter(
            $this->blocks,
            static fn (TextBlock $block): bool => '' !== $level($block) && $level($block) === $level($heading)
                && ('' === $container || str_starts_with($block->path, $container.' ')),
        );

        return \count($like) >= 2 && \in_array($heading, $like, true);
    }

    private function belongs(TextBlock $block, bool $begun): bool
    {
        return match (true) {
            $block->linkShare() > 0.66 && PassageKind::Heading !== $block->kind => false,
            PassageKind::Heading === $block->kind => $begun,
            \in_array($block->kind, [PassageKind::Item, PassageKind::Term, PassageKind::Line, PassageKind::Cell], true) => $begun
                || $this->runs($block),
            $this->runs($block) => true,
            // A short line among paragraphs belongs to them, unless it is before them.
            default => $begun && ($block->letters() >= 3),
        };
    }

    /**
     * @param list<TextBlock> $chosen
     *
     * @return array{bool, float}
     */
    private function judged(array $chosen, int $running): array
    {
        $letters = $sentences = $linked = $paragraphs = 0;
        foreach ($chosen as $block) {
            $letters += $block->letters() * $block->density();
            $linked += $block->links;
            if ($this->runs($block)) {
                ++$paragraphs;
                $sentences += $block->sentences;
            }
        }
        $all = 0;
        $headings = 0;
        foreach ($this->blocks as $block) {
            // However much readers write below, it is none of its surroundings.
            $all += 1 === preg_match(self::COMMENTS, $block->path) ? 0 : $block->letters() * $block->density();
            $headings += PassageKind::Heading === $block->kind && $block->linkShare() > 0.8 ? 1 : 0;
        }
        $score = 0.0;
        $score += min(1.0, $letters / 900) * 1.6 - 0.5;
        $score += min(1.0, $sentences / 8) * 0.9 - 0.4;
        $score += 0 === $all ? -1.0 : ($letters / $all - 0.35) * 0.9;
        $score -= 0 === $letters ? 1.0 : 2.2 * $linked / max(1, $letters);
        // Headings that are links are teasers: a front page, a list.
        $score -= 0.22 * min(6, max(0, $headings - 1));
        $score -= $this->offered >= max(self::MANY, 0.4 * $paragraphs) ? 2.0 : 0.0;
        $score -= $this->facts->saysFound() && $this->entries() >= self::MANY ? 3.0 : 0.0;
        $score += $this->facts->saysArticle() ? 0.5 : 0.0;
        $score -= $this->facts->saysOther() ? 0.5 : 0.0;
        $score -= $letters < 200 || $sentences < 2 ? 0.8 : 0.0;
        $score += 1 === $paragraphs && $letters < 400 ? -0.3 : 0.0;
        $confidence = 1 / (1 + exp(-2.6 * abs($score)));

        return [$score > 0, round($confidence, 3)];
    }

    /** Headings and links with no more than a short paragraph below them each. */
    private function entries(): int
    {
        $entries = $below = 0;
        $isOpen = false;
        foreach ($this->blocks as $block) {
            if (PassageKind::Heading === $block->kind || $block->linkShare() > 0.8) {
                $entries += $isOpen && $below > 0 && $below <= self::BOX ? 1 : 0;
                $below = 0;
                $isOpen = PassageKind::Heading === $block->kind || $block->letters() >= 15;
            } else {
                $below += $this->isAround($block->path) ? 0 : $block->letters();
            }
        }

        return $entries + ($isOpen && $below > 0 && $below <= self::BOX ? 1 : 0);
    }

    /**
     * The ways to boxes within the text that ask for something, as an address for letters.
     *
     * @return list<string>
     */
    private function boxes(string $container): array
    {
        $boxes = [];
        foreach ($this->blocks as $block) {
            if (1 === preg_match('/^(.+?) form[#.:]/', $block->path, $m) && \strlen($m[1]) > \strlen($container)) {
                $boxes[$m[1].' '] = 0;
                if (\count($boxes) >= self::BOXES) {
                    break;
                }
            }
        }
        foreach ($this->blocks as $block) {
            foreach ($boxes as $way => $letters) {
                $boxes[$way] = $letters + (str_starts_with($block->path, $way) ? $block->letters() : 0);
            }
        }

        return array_keys(array_filter($boxes, static fn (int $letters): bool => $letters < self::BOX));
    }

    private static function words(string $text): int
    {
        return (int) preg_match_all(
            '/[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}]|(?:(?![\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}])[\p{L}\p{M}\p{N}])+/u', $text,
        );
    }
}
