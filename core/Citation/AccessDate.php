<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Page\PageDate;

/** When a reference says that its page was read. */
final class AccessDate
{
    private const WORDS = 'accessed|access date|accessed on|retrieved|visited|viewed|consulted|(?:last )?(?:checked|seen|read|opened)|as'
        .' (?:of|at)|abgerufen|abruf|zugriff|aufgerufen|besucht|eingesehen|geprüft|gesehen|consult[ée]e?s?|consultado|consultada|'
        .'consultato|consultata|accedido|recuperado|acceso|acesso|acessado|geraadpleegd|bezocht|hämtad|besökt|läst|hentet|lest|'
        .'besøkt|luettu|viitattu|dostęp|cit(?:ováno)?|πρόσβαση|ανακτήθηκε|προσπελάστηκε|επίσκεψη|дата обращения|просмотрено|閲覧|'
        .'アクセス|参照|访问|檢索|检索|تاريخ الوصول|اطلع عليه|tarih|erişim';
    private const WINDOW = 160;

    /**
     * @param int $from where the address begins in the text, in bytes
     * @param int $to where it ends
     *
     * @return string|null as 2024-11-03
     */
    public static function near(string $text, int $from, int $to): ?string
    {
        // What lies behind an address belongs to it.
        $behind = mb_strcut(substr($text, $to, self::WINDOW + 8), 0, self::WINDOW);
        $next = BareAddresses::in($behind)[0][1] ?? \strlen($behind);
        $behind = substr($behind, 0, $next);
        $before = mb_strcut(substr($text, max(0, $from - self::WINDOW), min($from, self::WINDOW)), 0);
        $before = [] === BareAddresses::in(mb_scrub($before)) ? $before : '';

        return self::told($behind) ?? self::told($before) ?? self::bracketed($behind);
    }

    private static function told(string $text): ?string
    {
        $text = mb_scrub($text);
        if (1 !== preg_match('/(?<!\p{L})(?:'.self::WORDS.')/iu', $text, $m, \PREG_OFFSET_CAPTURE)) {
            return null;
        }
        [$word, $at] = $m[0];
        $after = mb_strcut(substr($text, $at + \strlen($word)), 0, 60);
        $ahead = mb_strcut(substr($text, max(0, $at - 60), min($at, 60)), 0);

        // Some languages set the word behind the date.
        return PageDate::find(mb_scrub($after)) ?? PageDate::find(mb_scrub($ahead));
    }

    /** A date in brackets right behind the address. */
    private static function bracketed(string $text): ?string
    {
        return 1 === preg_match('/^[>\s]*[\[(（]([^\[\]()（）]{6,40})[\])）]/u', $text, $m) && PageDate::share(trim($m[1])) > 0.7
            ? PageDate::find($m[1])
            : null;
    }
}
