<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Link;

/** Which links of a page led nowhere any more by then, as far as is held: nothing is asked of today's web. */
final readonly class LinkFates
{
    private const MOST = 400;

    public function __construct(private Connection $database)
    {
    }

    /**
     * Links of the later page whose target was last seen gone by its moment, and was not yet by the earlier one's.
     *
     * @return list<array{Link, int, string}> with the status and the permanent address of the capture that says so
     */
    public function died(Capture $old, Capture $new, Document $page): array
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
        $last = 'SELECT c.%s FROM capture c WHERE c.address_id = a.id AND c.captured_at <= ? ORDER BY c.captured_at DESC, c.id DESC LIMIT 1';
        $rows = $this->database->fetchAllAssociative(
            \sprintf('SELECT a.url_key, ('.$last.') AS before_status, ('.$last.') AS after_status, ('.$last.') AS code FROM address a WHERE a.url_key IN (?)', 'status', 'status', 'code'),
            [MomentType::text($old->capturedAt), MomentType::text($new->capturedAt), MomentType::text($new->capturedAt), array_map(strval(...), array_keys($links))],
            [3 => ArrayParameterType::STRING],
        );
        $died = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $status = $row->intOrNull('after_status') ?? 200;
            if ($status >= 400 && ($row->intOrNull('before_status') ?? 200) < 400 && isset($links[$row->text('url_key')])) {
                $died[] = [$links[$row->text('url_key')], $status, $row->text('code')];
            }
        }

        return $died;
    }
}
