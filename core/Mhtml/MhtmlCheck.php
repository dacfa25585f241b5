<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Page\RequisiteKind;
use Ypomna\Core\Page\Requisites;

/** Checks an MHTML file: its form, and whether each page holds what its document asks for. */
final class MhtmlCheck
{
    /** More of a document is not searched for references, in bytes. */
    private const MAX_DOCUMENT = 8_388_608;
    private const MAX_UNRESOLVED = 1_000;

    /**
     * @return list<MhtmlFinding> what {@see MhtmlReader} found among them
     */
    public static function run(Archive $archive): array
    {
        $findings = $archive->findings;
        for ($page = 0; $archive->isMhtml && $page < $archive->pages; ++$page) {
            $root = $archive->rootOf($page);
            if (null !== $root && \in_array($root->headers->mime, ['text/html', 'application/xhtml+xml'], true)) {
                array_push($findings, ...self::unresolved($archive, $root));
            }
        }

        return $findings;
    }

    /**
     * @return list<MhtmlFinding>
     */
    private static function unresolved(Archive $archive, Entity $root): array
    {
        $held = [];
        foreach ($archive->partsOf($root->page) as $part) {
            $held[self::plain($part->location() ?? '')] = true;
            $held['cid:'.($part->headers->contentId() ?? '')] = true;
        }
        [$base, $wanted] = Requisites::all(self::text($archive, $root));
        $at = Url::tryParse($root->location() ?? 'thismessage:/');
        $at = null === $base ? $at : Url::tryParse($base, $at) ?? $at;
        $missing = [];
        foreach ($wanted as $requisite) {
            if (RequisiteKind::Icon === $requisite->kind) {
                continue;
            }
            $addresses = array_map(
                static fn (string $reference): string => self::plain((string) (Url::tryParse($reference, $at) ?? $reference)),
                $requisite->any,
            );
            $found = array_filter($addresses, static fn (string $address): bool => isset($held[$address]));
            // Of the sources of a font or a film a browser takes the first that it understands; which candidate of a picture it
            // takes depends on the reader's screen.
            $open = RequisiteKind::Image === $requisite->kind
                ? array_diff($addresses, $found)
                : ([] === $found ? \array_slice($addresses, 0, 1) : []);
            foreach ($open as $address) {
                if (1 === preg_match('#^https?://#i', $address)) {
                    $missing[$address] = true;
                }
            }
        }
        $findings = [];
        foreach (\array_slice(array_keys($missing), 0, self::MAX_UNRESOLVED) as $address) {
            $findings[] = new MhtmlFinding(
                MhtmlFindingCode::Unresolved,
                $root->index,
                \sprintf('The document asks for %s, and no part of the page answers.', mb_strimwidth(mb_scrub($address), 0, 300, '…')),
            );
        }

        return $findings;
    }

    private static function text(Archive $archive, Entity $root): string
    {
        $bytes = '';
        foreach ($archive->body($root) as $piece) {
            $bytes .= $piece;
            if (\strlen($bytes) >= self::MAX_DOCUMENT) {
                break;
            }
        }

        return Charset::text($bytes, null === $root->headers->charset() ? null : 'text/html; charset='.$root->headers->charset());
    }

    /** As it is compared: in one spelling, without a fragment. */
    private static function plain(string $address): string
    {
        $url = Url::tryParse($address);

        return null === $url ? $address : (string) $url->withoutFragment();
    }
}
