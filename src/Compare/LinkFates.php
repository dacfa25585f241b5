<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Link;

/** Which links of a page led nowhere any more by then, as far as is held: nothing is asked of today's web. */
final readonly class LinkFates
{
    private const MOST = 400;

    public function __construct(private CaptureLists $lists)
    {
    }

    /**
     * Links of the later page whose target was last seen gone by its moment, and was not yet by the earlier one's.
     *
     * @return list<array{Link, int, string}> with the status and the permanent address of the capture that says so
     */
    public function died(Viewer $viewer, Capture $old, Capture $new, Document $page): array
    {
        $links = [];
        foreach ($page->links as $link) {
            if (1 === preg_match('~^https?://~i', $link->href) && \count($links) < self::MOST) {
                $links[AddressKeys::keyOf($link->href)] ??= $link;
            }
        }
        if ([] === $links) {
            return [];
        }
        $keys = array_map(\strval(...), array_keys($links));
        $statuses = $this->lists->statuses($viewer, $keys, MomentType::text($old->capturedAt), MomentType::text($new->capturedAt));
        $died = [];
        foreach ($statuses as $key => $status) {
            $after = $status['after'] ?? 200;
            if ($after >= 400 && ($status['before'] ?? 200) < 400 && null !== $status['code'] && isset($links[$key])) {
                $died[] = [$links[$key], $after, $status['code']];
            }
        }

        return $died;
    }
}
