<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

/**
 * Finds the pages of a message: each outermost multipart/related is one (RFC 2557 section 3), and so is a document with an
 * address of its own that lies in none; and of each page its root (RFC 2387 section 3.2).
 *
 * @internal
 */
final class Pages
{
    private int $pages = 0;
    private bool $isMhtml = false;
    /** @var list<MhtmlFinding> */
    private array $findings = [];

    /**
     * @param list<Entity> $leaves
     * @param list<MhtmlFinding> $findings
     */
    public static function of(string $path, ?Entity $message, array $leaves, array $findings): Archive
    {
        $pages = new self();
        if (null !== $message) {
            $pages->walk($message);
        }
        if (!$pages->isMhtml) {
            $what = match (true) {
                null === $message => 'This is neither MHTML nor a mail message: it does not begin with a header.',
                default => 'This is a mail message, not MHTML: it has neither a multipart/related nor a page with its address.',
            };
            $pages->findings[] = new MhtmlFinding(MhtmlFindingCode::NotMhtml, null, $what);
            if (null !== $message && [] !== $leaves) {
                $pages->pages = 1;
                $root = self::root($message);
                if (null !== $root) {
                    $root->root = true;
                }
            }
        }
        $parts = [];
        foreach ($leaves as $leaf) {
            array_push($parts, ...$leaf->findings);
        }

        return new Archive($path, $message, $leaves, [...$findings, ...$pages->findings, ...$parts], $pages->pages, $pages->isMhtml);
    }

    private function walk(Entity $entity): void
    {
        if ('multipart/related' === $entity->headers->mime) {
            $this->related($entity);

            return;
        }
        if (!$entity->isContainer()) {
            $isPage = null !== $entity->headers->address('Content-Location')
                && \in_array($entity->headers->mime, ['text/html', 'application/xhtml+xml'], true)
                && 'multipart/alternative' !== $entity->parent?->headers->mime;
            $entity->page = $isPage ? $this->pages++ : max(0, $this->pages - 1);
            $entity->root = $isPage;
            $this->isMhtml = $this->isMhtml || $isPage;

            return;
        }
        foreach ($entity->children as $child) {
            $this->walk($child);
        }
    }

    private function related(Entity $related): void
    {
        $this->isMhtml = true;
        $number = $this->pages++;
        self::number($related, $number);
        $start = Headers::bareId($related->headers->parameter('start'));
        $child = null === $start ? null : self::withId($related, $start);
        $root = self::root($child ?? $related->children[0] ?? null);
        if (null === $root) {
            $this->findings[] = new MhtmlFinding(
                MhtmlFindingCode::NoRoot, null, \sprintf('Page %d has no part that could be its document.', $number),
            );

            return;
        }
        $root->root = true;
        if (null !== $start && null === $child) {
            $this->findings[] = new MhtmlFinding(
                MhtmlFindingCode::NoRoot,
                null,
                \sprintf(
                    'Page %d says that it begins with the part <%s>, but there is none of that name; the first part is taken.',
                    $number,
                    mb_strimwidth(mb_scrub($start), 0, 100, '…'),
                ),
            );
        }
    }

    private static function number(Entity $entity, int $number): void
    {
        $entity->page = $number;
        foreach ($entity->children as $child) {
            self::number($child, $number);
        }
    }

    /** The document in an entity: itself, of alternatives the last in HTML, else that of the first child. */
    private static function root(?Entity $entity): ?Entity
    {
        if (null === $entity || !$entity->isContainer()) {
            return $entity;
        }
        if ('multipart/related' === $entity->headers->mime) {
            $start = Headers::bareId($entity->headers->parameter('start'));

            return self::root((null === $start ? null : self::withId($entity, $start)) ?? $entity->children[0] ?? null);
        }
        if ('multipart/alternative' === $entity->headers->mime) {
            foreach (array_reverse($entity->children) as $child) {
                $leaf = self::root($child);
                if (null !== $leaf && 'text/html' === $leaf->headers->mime) {
                    return $leaf;
                }
            }
        }

        return self::root($entity->children[0] ?? null);
    }

    private static function withId(Entity $entity, string $id): ?Entity
    {
        foreach ($entity->children as $child) {
            if ($child->headers->contentId() === $id) {
                return $child;
            }
        }
        foreach ($entity->children as $child) {
            $found = self::withId($child, $id);
            if (null !== $found) {
                return $found;
            }
        }

        return null;
    }
}
