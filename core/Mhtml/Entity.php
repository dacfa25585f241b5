<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

use Ypomna\Core\Address\Url;

/** A MIME entity of a file that was read: a multipart with its children, or a leaf with what was found out about its body. */
final class Entity
{
    /** @var list<Entity> */
    public array $children = [];
    /** Number of the leaf in the file, from 0. */
    public int $index = -1;
    /** Number of the page that it belongs to, from 0. */
    public int $page = 0;
    public bool $root = false;
    /** Of the body, its transfer-encoding decoded. */
    public int $bytes = 0;
    /** Hex. */
    public string $sha256 = '';
    /** Where its body begins in the file. */
    public int $bodyAt = 0;
    /** Where its body ends, the line end before the boundary left out. */
    public int $bodyEnd = 0;
    /** @var list<MhtmlFinding> */
    public array $findings = [];

    public function __construct(public readonly Headers $headers, public readonly ?self $parent)
    {
    }

    public function isContainer(): bool
    {
        return $this->headers->isMultipart() || [] !== $this->children;
    }

    /** Whether it, or one that it lies in, is a multipart/related. */
    public function relatedAround(): ?self
    {
        $outermost = null;
        for ($entity = $this; null !== $entity; $entity = $entity->parent) {
            $outermost = 'multipart/related' === $entity->headers->mime ? $entity : $outermost;
        }

        return $outermost;
    }

    /** Content-Location, resolved against the base that RFC 2557 section 5 gives it; null if there is none. */
    public function location(): ?string
    {
        $given = $this->headers->address('Content-Location');
        if (null === $given || self::isAbsolute($given)) {
            return $given;
        }
        $base = Url::tryParse($this->base());
        $url = null === $base ? null : Url::tryParse($given, $base);

        return null === $url ? 'thismessage:/'.ltrim($given, '/') : (string) $url;
    }

    /** What relative addresses in its header are relative to. */
    private function base(): string
    {
        $own = $this->headers->address('Content-Base');
        if (null !== $own && self::isAbsolute($own)) {
            return $own;
        }
        for ($entity = $this->parent; null !== $entity; $entity = $entity->parent) {
            $base = $entity->headers->address('Content-Base');
            if (null !== $base && self::isAbsolute($base)) {
                return $base;
            }
            if (null !== $entity->headers->address('Content-Location')) {
                return $entity->location() ?? 'thismessage:/';
            }
        }

        return 'thismessage:/';
    }

    private static function isAbsolute(string $address): bool
    {
        return 1 === preg_match('/^[a-z][a-z0-9+.-]*:/i', $address);
    }
}
